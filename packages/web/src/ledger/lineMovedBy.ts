import type { BodyView } from '@jasmorphe/contracts/views';

/** Whose line an undo or a redo walks along: that of the part in hand, and then the model's. */
export const lineMovedBy = (body: BodyView, own: BodyView | undefined, way: 'undo' | 'redo'): BodyView | null =>
  [own, body].find((b) => b && (way === 'undo' ? b.canUndo : b.canRedo)) ?? null;
