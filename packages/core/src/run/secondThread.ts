import type { RunContext } from './context.ts';
import type { PieceName, Pieces } from '../operations/pieces.ts';

type Result<N extends PieceName> = ReturnType<Pieces[N]> extends Promise<infer T> ? T : ReturnType<Pieces[N]>;

/** Starts a piece of work on another thread. */
export type SecondThread = <N extends PieceName>(name: N, ...args: Parameters<Pieces[N]>) => Promise<Result<N>>;

/** Below this many triangles a thread takes longer to start than it saves. */
const worthAThread = 30_000;

/**
 * A piece of work, begun now on the second thread where there is one and the mesh is worth it, or else done when it is
 * asked for. Ask for it once.
 *
 * @param work the piece itself, for when it is done here
 */
export function begin<N extends PieceName>(
  context: RunContext,
  name: N,
  work: Pieces[N],
  ...args: Parameters<Pieces[N]>
): () => Promise<Result<N>> {
  if (!context.secondThread || args[0].triangles.length < 3 * worthAThread) {
    const here = work as unknown as (...args: Parameters<Pieces[N]>) => Promise<Result<N>>;
    return async () => here(...args);
  }
  const coming = context.secondThread(name, ...args);
  // whoever is cancelled meanwhile never asks
  coming.catch(() => undefined);
  return () => coming;
}
