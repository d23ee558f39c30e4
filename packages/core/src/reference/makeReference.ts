import { MeshError } from '../run/MeshError.ts';
import { bodyMeasures, percentiles, type BodyMeasureName, type Percentile } from '../trade/anthropometry.ts';
import { makeSeated, makeStanding } from './figure.ts';
import { makeHand } from './hand.ts';
import { makeHead } from './head.ts';
import type { ReferenceBody, ReferenceKind } from './ReferenceBody.ts';

/** What is to be measured for each kind, and the published table it starts from. */
export const measuresOf = {
  head: {
    girth: 'headGirth',
    length: 'headLength',
    breadth: 'headBreadth',
    height: 'headHeight',
    eyesApart: 'eyesApart',
  },
  hand: { length: 'handLength', breadth: 'handBreadth' },
  standing: { stature: 'stature', shoulderBreadth: 'shoulderBreadth', hipBreadth: 'hipBreadth' },
  seated: {
    sittingHeight: 'sittingHeight',
    kneeHollow: 'kneeHollow',
    seatToKnee: 'seatToKnee',
    shoulderBreadth: 'shoulderBreadth',
    hipBreadth: 'hipBreadth',
  },
} as const satisfies Record<ReferenceKind, Record<string, BodyMeasureName>>;

/** Measures of a kind of body at a published percentile, mm. */
export function publishedMeasures(
  kind: ReferenceKind,
  of: 'women' | 'men' = 'men',
  percentile: Percentile = 50,
): Record<string, number> {
  return Object.fromEntries(
    Object.entries(measuresOf[kind]).map(([name, table]) => [
      name,
      bodyMeasures[table][of][percentiles.indexOf(percentile)],
    ]),
  );
}

/**
 * Holds measures against what bodies of a kind are measured by, and what people measure.
 *
 * @throws MeshError `bad-params`
 */
export function checkMeasures(kind: ReferenceKind, given: Record<string, number>): void {
  const usual = publishedMeasures(kind);
  for (const [name, mm] of Object.entries(given)) {
    if (!Object.hasOwn(usual, name))
      throw new MeshError(
        'bad-params',
        `"${name}" is no measure of a ${kind} body.`,
        `Its measures are ${Object.keys(usual).join(', ')}.`,
        'measures',
      );
    if (!(mm > 0.2 * usual[name]) || !(mm < 5 * usual[name]))
      throw new MeshError(
        'bad-params',
        `${name} of ${mm} mm is not that of a person: ${usual[name]} mm is usual.`,
        'Give it in mm.',
        name,
      );
  }
}

/**
 * A reference body of its measures, mm; those left out are the median man's.
 *
 * @throws MeshError `bad-params` for a measure that is none, or measures that do not go together
 */
export function makeReference(kind: ReferenceKind, given: Record<string, number> = {}): ReferenceBody {
  checkMeasures(kind, given);
  const usual = publishedMeasures(kind);
  const m = { ...usual, ...given } as never;
  return kind === 'head'
    ? makeHead(m)
    : kind === 'hand'
      ? makeHand(m)
      : kind === 'seated'
        ? makeSeated(m)
        : makeStanding(m);
}
