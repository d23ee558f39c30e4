import { isMeshError } from '@jasmorphe/core/run/MeshError';
import type { Trouble } from '../store/troubles.ts';
import type { ComputedOf, ComputePort, ComputeRun, ComputeTask, Hearing } from './ComputePort.ts';

const fileTroubles: readonly string[] = ['file-missing', 'file-damaged'] satisfies Trouble['code'][];

/** Is a file that was asked for not there, or not what its name says? */
const wantsFile = (error: unknown): boolean => isMeshError(error) && fileTroubles.includes(error.code);

/** Meshes that a task needs. */
function meshesOf(task: ComputeTask): readonly string[] {
  if (task.kind === 'run') return task.inputs;
  return task.kind === 'plan' ? [] : [task.hash];
}

/** Has work done elsewhere; once more after meshes were brought back that were missing or damaged. */
export class RemakingCompute implements ComputePort {
  /** @param remake brings meshes back; throws where it cannot */
  constructor(
    private readonly inner: ComputePort,
    private readonly remake: (hashes: readonly string[]) => Promise<void>,
  ) {}

  get size(): number {
    return this.inner.size;
  }

  run<T extends ComputeTask>(task: T, hearing?: Hearing): ComputeRun<ComputedOf<T>> {
    let cancelled = false;
    let now: ComputeRun<ComputedOf<T>>;
    const begin = (): Promise<ComputedOf<T>> => {
      now = this.inner.run(task, hearing);
      if (cancelled) now.cancel();
      return now.result;
    };
    const result = begin().catch(async (error: unknown) => {
      const hashes = meshesOf(task);
      if (!wantsFile(error) || hashes.length === 0) throw error;
      // what is wanted is told of as it was, where it cannot be brought back
      await this.remake(hashes).catch(() => {
        throw error;
      });
      return begin();
    });
    return {
      result,
      cancel() {
        cancelled = true;
        now.cancel();
      },
    };
  }
}
