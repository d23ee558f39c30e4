import type { PrintState } from '@jasmorphe/core/planning/printState';
import type { PrintsAtStake } from './views.ts';

const words: Record<PrintState, string> = {
  planned: 'recut',
  printing: 'on the bed',
  printed: 'printed',
  failed: 'stopped',
  aside: 'set aside',
};

/** Parts with what they are: "A1 (printed), A2 (on the bed)". */
export const heldWords = (held: PrintsAtStake['lost']): string =>
  held.map((p) => `${p.tag} (${words[p.state]})`).join(', ');

/** "2 parts that are printed", whatever has become of each. */
export const printedCount = (held: PrintsAtStake['lost']): string =>
  held.length === 1 ? '1 part that is printed' : `${held.length} parts that are printed`;
