import { printStateWords, type PrintState } from '@jasmorphe/core/planning/printState';
import type { PrintsAtStake } from '../views.ts';

/** Of those that something was done for; what waits was cut off from what stopped. */
const words: Record<PrintState, string> = { ...printStateWords, planned: 'recut' };

/** Parts with what they are: "A1 (printed), A2 (on the bed)". */
export const heldWords = (held: PrintsAtStake['lost']): string =>
  held.map((p) => `${p.tag} (${words[p.state]})`).join(', ');

/** "2 parts that are printed", whatever has become of each. */
export const printedCount = (held: PrintsAtStake['lost']): string =>
  held.length === 1 ? '1 part that is printed' : `${held.length} parts that are printed`;
