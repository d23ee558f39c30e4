import { poseAfter } from '@jasmorphe/contracts/reading/poses';
import type { StepView } from '@jasmorphe/contracts/steps';
import type { PartView } from '@jasmorphe/contracts/views';
import { isPrinting, isStopped } from '@jasmorphe/core/planning/printState';
import { Refusal } from './Refusal.ts';
import type { Body } from './Bodies.ts';
import type { BodyViews } from './BodyViews.ts';

/** Why a part cannot be laid otherwise just now; null where it can. What stopped is measured as it lay. */
export function lieRefusal(part: Pick<PartView, 'state' | 'tag'>): string | null {
  if (isPrinting(part)) return `${part.tag} is on the bed as it lies.`;
  return isStopped(part) ? `${part.tag} stopped as it lies, and its height was measured so.` : null;
}

/** Parts as they stand, by id; those whose divide is not in force are not among them. */
export async function partsNow(
  views: BodyViews,
  bodies: readonly Pick<Body, 'id' | 'model'>[],
): Promise<Map<string, PartView>> {
  const models = await views.viewsOf([...new Set(bodies.map((b) => b.model.id))]);
  const all = [...models.values()].flatMap((m) => (m instanceof Error ? [] : m.parts));
  return new Map(all.map((p) => [p.id, p]));
}

/**
 * Refuses to lay a part otherwise while a print of it stands on the bed, or stopped there.
 *
 * @throws Refusal `cannot`
 */
export async function mayLie(views: BodyViews, body: Pick<Body, 'id' | 'model'>): Promise<void> {
  const part = (await partsNow(views, [body])).get(body.id);
  const refusal = part && lieRefusal(part);
  if (refusal) throw new Refusal('state', 'cannot', refusal, 'Say how that print ended first.');
}

/** Does a change of a part's line lay it otherwise? */
export const liesOtherwise = (
  { line, cursor }: Pick<Body, 'line' | 'cursor'>,
  next: { line: readonly StepView[]; cursor: number },
): boolean => poseAfter(line, cursor)?.id !== poseAfter(next.line, next.cursor)?.id;
