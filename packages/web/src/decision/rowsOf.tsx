import type { ReactNode } from 'react';
import type { FigureRow } from '@jasmorphe/core/operations/Description';
import { secondsText, type Speaker } from '@jasmorphe/core/words/numbers';
import type { ConsequenceRow } from './Consequences.tsx';
import type { Preview } from './usePreviews.ts';
import { Failed } from '../ui/layout.ts';

/** A figure that is not what was hoped for. */
export const failed = (text: ReactNode): ReactNode => <Failed>{text}</Failed>;

/**
 * What the operation itself says of each answer, a row a figure.
 *
 * @param reports null where an answer is not worked out
 * @param more.rough estimates by label, which stand where no report does
 * @param more.leave labels that the card says in another way
 */
export function rowsOf<Report>(
  { words }: { words: { rows?: readonly FigureRow<Report>[] } },
  reports: readonly (Report | null)[],
  say: Speaker,
  more: { rough?: Record<string, readonly (string | null)[]>; leave?: readonly string[] } = {},
): ConsequenceRow[] {
  return (words.rows ?? [])
    .filter((row) => !more.leave?.includes(row.label) && (!row.when || reports.some((r) => r && row.when!(r))))
    .map((row) => ({
      label: row.label,
      method: row.method,
      cells: reports.map((r, i) => {
        if (!r) return more.rough?.[row.label]?.[i] ?? null;
        const text = (row.brief ?? row.of)(r, say);
        return row.bad?.(r) ? failed(text) : text;
      }),
    }));
}

/** How long each answer took to work out. @param taken ms of the one that was done, by its place */
export const elapsedRow = (
  previews: readonly Preview[],
  taken: (i: number) => number | null = () => null,
): ConsequenceRow => ({
  label: 'Takes',
  cells: previews.map((p, i) => {
    const ms = taken(i) ?? (p.state === 'ready' ? p.step.elapsedMs : null);
    return ms === null ? null : secondsText(ms / 1000);
  }),
});
