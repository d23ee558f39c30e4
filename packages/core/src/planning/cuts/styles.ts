import type { Wishes } from '../../params/Wishes.ts';

/** What a plan is to be best at. */
export const planStyles = ['fewest', 'clean', 'support', 'soon'] as const;
export type PlanStyle = (typeof planStyles)[number];

export const isPlanStyle = (plan: string): plan is PlanStyle => (planStyles as readonly string[]).includes(plan);

/** What counts in a plan, each beside one part more. */
export interface Weights {
  parts: number;
  /** a seam on skin in full view as long as the way round a bed */
  seam: number;
  /** room under overhangs of a hundredth of the printer's room */
  support: number;
  /** the time until all is printed, in shares of what the model takes whole */
  time: number;
  /** a part too small to hold */
  sliver: number;
  /** a face too small for pins */
  smallJoint: number;
  /** a mirrored model of which no part has its twin */
  symmetry: number;
}

/** Our own judgement: what each is best at outweighs all else, the rest settles ties. */
export const weightsOf: Record<PlanStyle, Weights> = {
  fewest: { parts: 1, seam: 0.05, support: 0.02, time: 0, sliver: 1, smallJoint: 0.5, symmetry: 0.2 },
  clean: { parts: 0.12, seam: 1, support: 0.02, time: 0, sliver: 0.5, smallJoint: 0.3, symmetry: 0.2 },
  support: { parts: 0.12, seam: 0.05, support: 1, time: 0, sliver: 0.5, smallJoint: 0.3, symmetry: 0.05 },
  soon: { parts: 0.1, seam: 0.05, support: 0.05, time: 20, sliver: 0.5, smallJoint: 0.3, symmetry: 0.05 },
};

/** Parts that a plan may have more to be mirrored, where that is wished above all (our own judgement). */
const wholeSymmetry = 4;

/** Each wish as heavy as its own plan makes it; parts never weigh nothing, or a plan would have no end of them. */
export const weighed = ({ parts, seam, support, time, symmetry = 0 }: Wishes): Weights => ({
  parts: Math.max(weightsOf.soon.parts, parts),
  seam: Math.max(weightsOf.fewest.seam, seam),
  support: Math.max(weightsOf.fewest.support, support),
  time: weightsOf.soon.time * time,
  sliver: weightsOf.clean.sliver,
  smallJoint: weightsOf.clean.smallJoint,
  symmetry: Math.max(weightsOf.clean.symmetry, wholeSymmetry * symmetry),
});

/** What each is called. */
export const planNames: Record<PlanStyle, string> = {
  fewest: 'Fewest',
  clean: 'Cleanest',
  support: 'Least support',
  soon: 'Soonest',
};
