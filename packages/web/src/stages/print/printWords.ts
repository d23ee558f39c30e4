import type { PrintOutcome } from '@jasmorphe/core/planning/printState';

/** What an entry of the print log says. */
export const outcomeWords: Record<PrintOutcome, string> = {
  started: 'started',
  passed: 'looks right',
  failed: 'stopped',
  again: 'to be printed again',
  aside: 'set aside',
  withdrawn: 'taken back',
};
