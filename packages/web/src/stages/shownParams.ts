import type { OperationName, ParamsOf } from '@jasmorphe/core/operations/catalogue';

/**
 * The params that the card of a stop shows. All others of a step, such as were given on the command line or through the
 * API, are kept when it is edited there.
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
  divide: ['bed', 'beds', 'margin', 'kind', 'layer', 'plan', 'at', 'cuts', 'join', 'clearance', 'labels'],
} as const satisfies { [N in OperationName]?: readonly (keyof ParamsOf<N>)[] };

/** Operations that have a card of their own at which their step is edited. */
export type EditedOnCard = keyof typeof shownParams;

/** What a step has beyond what its card shows. */
export function keptParams<N extends EditedOnCard>(name: N, params: Partial<ParamsOf<N>>): Partial<ParamsOf<N>> {
  const shown: readonly string[] = shownParams[name];
  return Object.fromEntries(Object.entries(params).filter(([key]) => !shown.includes(key))) as Partial<ParamsOf<N>>;
}
