import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

let collect: (() => void) | undefined;

/**
 * Has this thread's garbage collected now. The engine does so by itself when its heap grows, and the heap of a thread that has
 * worked through many large meshes is small: hundreds of megabytes beside it, of a kernel that nobody holds, would wait for
 * hours. Takes some 20 ms, and as long once more in the next turn: what was freed is counted as free by then.
 */
export function collectGarbage(): void {
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  collect();
  setImmediate(collect);
}
