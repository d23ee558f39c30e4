import type { OperationName, ParamsOf } from '@jasmorphe/core/operations/catalogue';

/**
 * The params that the card of a stop shows, or sets by what it shows: of those that it does not name when it runs, nothing of before is
 * carried over. All others of a step, such as were given on the command line or through the API, are kept when it is edited there.
 */
export const shownParams = {
  import: ['unit'],
  mend: ['method', 'detail', 'closeGaps', 'grow', 'fillLimit', 'loops', 'taut', 'crumb', 'keepCrumbs'],
  size: [
    'factor',
    'axis',
    'to',
    'measured',
    'real',
    'readings',
    'ratio',
    'original',
    'bed',
    'margin',
    'stretch',
    'shrinkage',
  ],
  hollow: ['wall', 'drain', 'drains', 'openBase'],
  divide: [
    'bed',
    'beds',
    'margin',
    'kind',
    'layer',
    'nozzle',
    'plan',
    'weights',
    'keepClean',
    'painted',
    'at',
    'cuts',
    'join',
    'joinMm',
    'clearance',
    'bandMm',
    'joinPlaces',
    'names',
    'labels',
    'labelMm',
  ],
} as const satisfies { [N in OperationName]?: readonly (keyof ParamsOf<N>)[] };

/** Operations that have a card of their own at which their step is edited. */
export type EditedOnCard = keyof typeof shownParams;

/** What a card says when it runs its step, of the params that it shows; what it leaves out of them is as usual, whatever it was before. */
export type ShownOf<N extends EditedOnCard> = Pick<ParamsOf<N>, (typeof shownParams)[N][number] & keyof ParamsOf<N>>;

/** What a step has beyond what its card shows. */
export function keptParams<N extends EditedOnCard>(name: N, params: Partial<ParamsOf<N>>): Partial<ParamsOf<N>> {
  const shown: readonly string[] = shownParams[name];
  return Object.fromEntries(Object.entries(params).filter(([key]) => !shown.includes(key))) as Partial<ParamsOf<N>>;
}
