import { whole } from '../words/numbers.ts';

/** At so many crossing pairs counting ends: such a heap is no skin, however many there are. */
export const mostCounted = 1_000_000;

/** How many pairs cross, in words. */
export const pairsText = (count: number): string =>
  count >= mostCounted ? `over ${whole(mostCounted)}` : whole(count);
