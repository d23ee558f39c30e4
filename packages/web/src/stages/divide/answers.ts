import type { BodyView } from '@jasmorphe/contracts/views';
import type { CutsReport } from '@jasmorphe/core/operations/cuts/describe';
import type { DivideParams, DivideReport } from '@jasmorphe/core/operations/divide/describe';
import type { JoinPlace } from '@jasmorphe/core/params/checks';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { planNames, type PlanStyle } from '@jasmorphe/core/planning/cuts/styles';
import type { ShownOf } from '../shownParams.ts';
import { cutOf, cutsOf, namesOf, ownOf } from './divideParams.ts';
import { areSameBeds, type BedParams } from './plans.ts';

/** An answer that stands in a column: what is there already, one's own cuts, or a plan. */
export type Column = 'cut' | 'own' | 'weighed' | PlanStyle;

export const columnNames: Record<Column, string> = { cut: 'As cut', own: 'Yours', weighed: 'Weighed', ...planNames };

/** Params that have a field of their own on the card. */
const fields = ['margin', 'join', 'joinMm', 'clearance', 'labels', 'labelMm', 'bandMm'] as const;

/** What the card asks for, whichever plan is taken. */
export interface Wanted {
  values: Pick<DivideParams, (typeof fields)[number]>;
  beds: BedParams;
  places: JoinPlace[];
  clean: CleanBox[];
  painted: CleanSpot[];
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Is all that the card asks for, but the plan, as it was when the divide in force was made? */
export const isAsBefore = (old: Partial<DivideParams>, { values, beds, places, clean, painted }: Wanted): boolean =>
  areSameBeds(old, beds) &&
  fields.every((f) => old[f] == null || old[f] === values[f]) &&
  isSame(clean, old.keepClean ?? []) &&
  isSame(painted, old.painted ?? []) &&
  isSame(places, old.joinPlaces ?? []);

/** What stands in the columns that are no plan by a style. */
export interface Beside {
  own: PlaneCut[] | null;
  weighed: CutsReport | null;
  wishes: Wishes | null;
  /** found within seconds, for the fewest parts */
  quick: CutsReport | null;
}

/** Is what stands in that column what was done, with everything else as it was? */
export function isTaken(
  column: Column,
  old: Partial<DivideParams>,
  best: Record<PlanStyle, CutsReport | null>,
  { own, weighed, quick }: Beside,
): boolean {
  if (column === 'cut') return true;
  if (column === 'own') return isSame(ownOf(old), own);
  if (column === 'weighed') return weighed !== null && isSame(ownOf(old), weighed.cuts);
  const plan = best[column];
  if (quick && plan === quick) return false;
  return ownOf(old) === null && plan !== null && old.plan === plan.plan;
}

/**
 * Params of the divide that a column stands for.
 *
 * @param before what is in force: its params and report
 */
export function answerOf(
  column: Column,
  wanted: Wanted,
  best: Record<PlanStyle, CutsReport | null>,
  { own, weighed, wishes, quick }: Beside,
  before: {
    old: Partial<DivideParams>;
    done: DivideReport | undefined;
    parts: BodyView['parts'];
  },
): Partial<ShownOf<'divide'>> {
  const { old, done, parts } = before;
  const { values, beds, places, clean, painted } = wanted;
  // joins stay where they were put only while the cuts stay
  const hand = column === 'cut' || column === 'own' ? places : [];
  const rest = {
    ...beds,
    ...Object.fromEntries(fields.map((f) => [f, values[f]])),
    joinPlaces: hand.length > 0 ? hand : undefined,
    keepClean: clean.length > 0 ? clean : undefined,
    painted: painted.length > 0 ? painted : undefined,
    weights: column === 'weighed' ? (wishes ?? undefined) : undefined,
    names: done ? namesOf(done, parts, old.names ?? []) : undefined,
  };
  if (column === 'cut') {
    // joins that stand in a place want the cuts where they are: what was planned is cut as it was planned
    const stays = hand.length > 0 && areSameBeds(old, beds) && done && ownOf(old) === null;
    return {
      ...rest,
      ...(old.plan && { plan: old.plan }),
      ...cutsOf(old),
      ...(stays && { cuts: done.cuts.map(cutOf) }),
    };
  }
  if (column === 'own') return { ...rest, plan: 'auto', cuts: own! };
  // cut as it was planned
  if (column === 'weighed') return { ...rest, plan: 'fewest', cuts: weighed?.cuts };
  // the first one is not found again by its name
  if (quick && best[column] === quick) return { ...rest, plan: 'fewest', cuts: quick.cuts };
  const plan = best[column]?.plan;
  return { ...rest, plan: plan && plan !== 'own' ? plan : column };
}
