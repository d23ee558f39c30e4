import type { BodyView } from '@jasmorphe/contracts/views';
import { descriptionOf } from '@jasmorphe/core/operations/catalogue';

/** What the steps in force after one of them will do once it is changed; empty when there are none. */
export function laterWords(body: BodyView, index: number, length: (mm: number) => string): string {
  const words = body.line
    .slice(index + 1, body.cursor)
    .map((s) => descriptionOf(s.operation).words.replays?.(s.params, { length }))
    .filter((w) => w !== undefined);
  if (words.length === 0) return '';
  return `After it ${words.join('; ')}.`;
}
