import type { PieceName, RunContext } from './context.ts';

/** Below this many triangles a thread takes longer to start than it saves. */
const worthAThread = 30_000;

/**
 * A piece of work, begun now on the second thread where there is one and the mesh is worth it, or else done when it is
 * asked for. Ask for it once.
 *
 * @param work the piece itself, for when it is done here; the one that goes by that name
 */
export function begin<A extends [{ triangles: Uint32Array }, ...unknown[]], R>(
  context: RunContext,
  name: PieceName,
  work: (...args: A) => R | Promise<R>,
  ...args: A
): () => Promise<R> {
  if (!context.secondThread || args[0].triangles.length < 3 * worthAThread) return async () => work(...args);
  const coming = context.secondThread(name, ...args) as Promise<R>;
  // whoever is cancelled meanwhile never asks
  coming.catch(() => undefined);
  return () => coming;
}
