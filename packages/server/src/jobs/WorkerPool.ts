import { availableParallelism } from 'node:os';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import { isMeshError, MeshError, type MeshErrorCode } from '@jasmorphe/core/run/MeshError';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import type { Trouble } from '../store/troubles.ts';
import type { ReadPack } from '../pack/readPack.ts';
import type {
  DisplayTask,
  FailedRun,
  InspectTask,
  PlanResult,
  PlanTask,
  RunResult,
  RunTask,
  UnpackTask,
} from './worker.ts';

export interface RunRequest {
  operation: OperationName;
  params: Record<string, unknown>;
  inputs: string[];
  source?: { hash: string; name: string };
}

export interface RunHandle {
  result: Promise<RunResult>;
  cancel(): void;
}

/** How long a cancelled run may take to notice before its thread is ended, ms. */
const patienceMs = 400;

const errorOf = ({ failed: { code, message, hint, field } }: FailedRun): MeshError =>
  new MeshError(code as MeshErrorCode, message, hint, field);

/** Where a thread begins, seen from this module: as source, in the bundle, or beside it. */
const workerFile = (here: string): string =>
  here.endsWith('.ts') ? './sourceWorker.mjs' : here.includes('/bundle/') ? './worker.js' : '../bundle/worker.js';

/**
 * Threads that run operations, each with its own solid kernel. A server has its own, unless it is given some that several
 * servers of one process share: a new thread reads its code and makes it fast once more.
 */
export class Threads {
  readonly pool: Piscina;

  /** @param count how many jobs may be under way at once */
  constructor(readonly count = Math.max(1, Math.min(4, availableParallelism()))) {
    const file = new URL(workerFile(import.meta.url), import.meta.url);
    this.pool = new Piscina({ filename: file.href, minThreads: 1, maxThreads: count + 1, idleTimeout: 60_000 });
  }

  async close(): Promise<void> {
    await this.pool.close({ force: true }).catch(() => undefined);
    await this.pool.destroy();
  }
}

const fileTroubles: readonly string[] = ['file-missing', 'file-damaged'] satisfies Trouble['code'][];

/** Is a file that was asked for not there, or not what its name says? */
const wantsFile = (error: unknown): boolean => isMeshError(error) && fileTroubles.includes(error.code);

/** What a server has done in threads. */
export class WorkerPool {
  private readonly threads: Threads;
  /** of what is under way: its end, and what ends it */
  private readonly underWay = new Map<Promise<unknown>, AbortController>();
  private closed = false;
  /** brings meshes back whose files are missing or damaged, before what needs them is tried once more; throws where it cannot */
  remake: (hashes: readonly string[]) => Promise<void> = async () => {
    throw new Error('nobody works meshes out anew');
  };

  /** @param shared threads that outlive this server */
  constructor(
    private readonly dataFolder: string,
    private readonly shared?: Threads,
  ) {
    this.threads = shared ?? new Threads();
  }

  /** How many jobs may be under way at once. */
  get size(): number {
    return this.threads.count;
  }

  private async work<T>(task: object, transferList?: MessagePort[], abort = new AbortController()): Promise<T> {
    if (this.closed) throw new Error('The server has been stopped.');
    const done = this.threads.pool.run(task, { signal: abort.signal, transferList }) as Promise<T>;
    this.underWay.set(done, abort);
    try {
      return await done;
    } finally {
      this.underWay.delete(done);
    }
  }

  /** Does something that needs meshes; once more after those were brought back that were missing or damaged. */
  private async twice<T>(hashes: readonly string[], work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      if (!wantsFile(error) || hashes.length === 0) throw error;
      // what is wanted is told of as it was, where it cannot be brought back
      await this.remake(hashes).catch(() => {
        throw error;
      });
      return work();
    }
  }

  run(request: RunRequest, onProgress: (fraction: number, phase: string) => void): RunHandle {
    let handle: RunHandle | undefined;
    let cancelled = false;
    const result = this.twice(request.inputs, () => {
      handle = this.once(request, onProgress);
      if (cancelled) handle.cancel();
      return handle.result;
    });
    return {
      result,
      cancel() {
        cancelled = true;
        handle?.cancel();
      },
    };
  }

  private once(request: RunRequest, onProgress: (fraction: number, phase: string) => void): RunHandle {
    const cancel = new SharedArrayBuffer(4);
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (m: { progress: number; phase: string }) => onProgress(m.progress, m.phase));
    port1.unref();
    const abort = new AbortController();
    const task: RunTask = { kind: 'run', dataFolder: this.dataFolder, ...request, port: port2, cancel };
    let timer: NodeJS.Timeout | undefined;
    const result = this.work<RunResult | FailedRun>(task, [port2], abort)
      .catch((error: unknown) => {
        if (abort.signal.aborted) throw new MeshError('cancelled', 'Cancelled before it was done.');
        throw error;
      })
      .then((answer) => {
        if ('failed' in answer) throw errorOf(answer);
        return answer;
      })
      .finally(() => {
        clearTimeout(timer);
        port1.close();
      });
    return {
      result,
      cancel() {
        Atomics.store(new Int32Array(cancel), 0, 1);
        timer ??= setTimeout(() => abort.abort(), patienceMs);
      },
    };
  }

  /** Days as they are planned. @throws MeshError `bad-params` */
  async plan(task: Omit<PlanTask, 'kind'>): Promise<PlanResult> {
    const answer = await this.work<PlanResult | FailedRun>({ kind: 'plan', ...task } satisfies PlanTask);
    if ('failed' in answer) throw errorOf(answer);
    return answer;
  }

  async display(hash: string, budget: number): Promise<void> {
    const task: DisplayTask = { kind: 'display', dataFolder: this.dataFolder, hash, budget };
    await this.twice([hash], async () => {
      const answer = await this.work<true | FailedRun>(task);
      if (answer !== true) throw errorOf(answer);
    });
  }

  /** Looks through the archive of a project. @throws MeshError as of `readPack` */
  async unpack(path: string): Promise<ReadPack> {
    const task: UnpackTask = { kind: 'unpack', dataFolder: this.dataFolder, path };
    const answer = await this.work<ReadPack | FailedRun>(task);
    if ('failed' in answer) throw errorOf(answer);
    return answer;
  }

  /** What a mesh is, looked at once more. */
  async inspect(hash: string): Promise<Inspection> {
    const task: InspectTask = { kind: 'inspect', dataFolder: this.dataFolder, hash };
    const answer = await this.work<Inspection | FailedRun>(task);
    if ('failed' in answer) throw errorOf(answer);
    return answer;
  }

  /** Takes no more work, ends what is under way, and its own threads. */
  async close(): Promise<void> {
    this.closed = true;
    // as long as a cancelled run has, so that threads that are shared need not be ended
    const late = setTimeout(() => {
      for (const abort of this.underWay.values()) abort.abort();
    }, patienceMs);
    await Promise.allSettled(this.underWay.keys());
    clearTimeout(late);
    if (!this.shared) await this.threads.close();
  }
}
