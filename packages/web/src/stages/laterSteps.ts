import type { BodyView } from '@jasmorphe/contracts/views';
import { descriptionOf } from '@jasmorphe/core/operations/catalogue';
import type { Speaker } from '@jasmorphe/core/words/numbers';

/** What the steps in force after one of them will do once it is changed; empty when there are none. */
export function laterWords(body: BodyView, index: number, say: Speaker): string {
  const words = body.line
    .slice(index + 1, body.cursor)
    .map((s) => descriptionOf(s.operation).words.replays?.(s.params, say))
    .filter((w) => w !== undefined);
  if (words.length === 0) return '';
  return `After it ${words.join('; ')}.`;
}
