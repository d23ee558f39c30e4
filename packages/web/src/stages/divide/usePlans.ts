import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { CutsReport } from '@jasmorphe/core/operations/cuts/describe';
import type { DivideParams } from '@jasmorphe/core/operations/divide/describe';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { planStyles, type PlanStyle } from '@jasmorphe/core/planning/cuts/styles';
import { ask, reportOf, usePreviews, type Preview } from '../../decision/usePreviews.ts';
import type { Column } from './answers.ts';
import { bestFor } from './plans.ts';

/** Plans that are there, or being made. */
export interface Plans {
  /** the best by each style, whichever search found it */
  best: Record<PlanStyle, CutsReport | null>;
  own: CutsReport | null;
  weighed: CutsReport | null;
  quick: CutsReport | null;
  /** what stands in a column; null where nothing does yet, and for what was cut */
  reportIn: (column: Column) => CutsReport | null;
  /** how far its own search is, whatever stands in the column meanwhile */
  previewOf: (column: Column) => Preview | undefined;
  /** searched for at this moment */
  planning: boolean;
  /** some plan by a style is there */
  any: boolean;
  /** ways to cut that were looked at */
  looked: number;
}

/**
 * Plans of the cuts side by side: one by each style, one within seconds, one by the maker's own weights, and what the
 * maker's own cuts come to.
 *
 * @param shape params that all have in common; null where nothing can be cut
 * @param asked whether plans that nobody has made before are made
 */
export function usePlans(
  bodyId: string,
  hash: string,
  after: number,
  shape: Partial<Pick<DivideParams, 'bed' | 'beds' | 'margin' | 'keepClean' | 'painted'>> | null,
  { own, wishes, asked }: { own: PlaneCut[] | null; wishes: Wishes | null; asked: boolean },
): Plans {
  const search = (more: Partial<InstanceType<typeof catalogue.cuts.params>> | null | false) =>
    shape && more ? ask(catalogue.cuts, { ...shape, ...more }, { after, ifKnown: !asked }) : null;
  const [ownSeen, quickSeen, weighedSeen, ...styleSeen] = usePreviews(bodyId, hash, [
    shape && own && own.length > 0 ? ask(catalogue.cuts, { ...shape, cuts: own }, { after }) : null,
    // something to look at within seconds, while the four are sought
    search({ plan: 'fewest', quick: true }),
    search(wishes && { plan: 'fewest', weights: wishes }),
    ...planStyles.map((plan) => search({ plan })),
  ]);
  const ownReport = reportOf(ownSeen, catalogue.cuts);
  const quick = reportOf(quickSeen, catalogue.cuts);
  const weighed = reportOf(weighedSeen, catalogue.cuts);
  const byStyle = styleSeen.map((p) => reportOf(p, catalogue.cuts));
  const found = [...byStyle, quick];
  const best: Plans['best'] = {
    fewest: bestFor('fewest', found),
    clean: bestFor('clean', found),
    support: bestFor('support', found),
    soon: bestFor('soon', found),
  };
  return {
    best,
    own: ownReport,
    weighed,
    quick,
    reportIn: (c) => (c === 'cut' ? null : c === 'own' ? ownReport : c === 'weighed' ? weighed : best[c]),
    previewOf: (c) =>
      c === 'cut'
        ? undefined
        : c === 'own'
          ? ownSeen
          : c === 'weighed'
            ? weighedSeen
            : styleSeen[planStyles.indexOf(c)],
    planning: [quickSeen, weighedSeen, ...styleSeen].some((p) => p.state === 'working'),
    any: found.some((r) => r !== null),
    looked: byStyle.reduce((n, r) => n + (r?.looked ?? 0), 0) || (quick?.looked ?? 0),
  };
}
