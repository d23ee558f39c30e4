import type { ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';

/** Bodies and their measures in words. */
export const kindWords: Record<ReferenceKind, string> = {
  head: 'a head',
  hand: 'a hand',
  standing: 'a person standing',
  seated: 'a person seated',
};

export const measureWords: Record<string, string> = {
  girth: 'Girth, above the brows',
  length: 'Length',
  breadth: 'Breadth',
  height: 'Height, chin to top',
  eyesApart: 'Between the pupils',
  stature: 'Stature',
  shoulderBreadth: 'Shoulders across',
  hipBreadth: 'Hips across',
  sittingHeight: 'Seat to top of the head',
  kneeHollow: 'Floor to knee hollow',
  seatToKnee: 'Back of the seat to knee',
};
