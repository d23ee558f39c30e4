import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

let collect: (() => void) | undefined;
/** A moment in which the engine lets go of what it holds beside the heap, ms. */
const laterMs = 200;

/**
 * Has this thread's garbage collected now. The engine does so by itself when its heap grows, and the heap of a thread that has
 * worked through many large meshes is small: hundreds of megabytes beside it, of a kernel that nobody holds, would wait for
 * hours. Takes some 20 ms, and as long once more in the next turn: what was freed is counted as free by then. In one case of two
 * the engine itself still holds a kernel at that time, as measured: so the same is done again a moment later.
 */
export function collectGarbage(): void {
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  const twice = (): void => {
    collect!();
    setImmediate(collect!);
  };
  twice();
  setTimeout(twice, laterMs).unref();
}
