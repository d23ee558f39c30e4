import { availableParallelism } from 'node:os';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { MeshError, type MeshErrorCode } from '@jasmorphe/core/run/MeshError';
import type { ReadPack } from '../pack/readPack.ts';
import {
  beatMs,
  type ComputedOf,
  type ComputePort,
  type ComputeRun,
  type ComputeTask,
  type Hearing,
} from '../compute/ComputePort.ts';
import type { DoneTask, FailedTask, ForThread, UnpackTask } from './thread.ts';

/** How long a cancelled run may take to notice before its thread is ended, ms. */
const patienceMs = 400;

const errorOf = ({ failed: { code, message, hint, field } }: FailedTask): MeshError =>
  new MeshError(code as MeshErrorCode, message, hint, field);

/** Where a thread begins, seen from this module: as source, in the bundle, or beside it. */
const threadFile = (here: string): string =>
  here.endsWith('.ts') ? './sourceThread.mjs' : here.includes('/bundle/') ? './thread.js' : '../bundle/thread.js';

/**
 * Threads that do tasks, each with its own solid kernel. A server has its own, unless it is given some that several
 * servers of one process share: a new thread reads its code and makes it fast once more.
 */
export class Threads {
  readonly pool: Piscina;

  /** @param count how many jobs may be under way at once */
  constructor(readonly count = Math.max(1, Math.min(4, availableParallelism()))) {
    const file = new URL(threadFile(import.meta.url), import.meta.url);
    this.pool = new Piscina({ filename: file.href, minThreads: 1, maxThreads: count + 1, idleTimeout: 60_000 });
  }

  async close(): Promise<void> {
    await this.pool.close({ force: true }).catch(() => undefined);
    await this.pool.destroy();
  }
}

/** The threads of this process as a place where work is done. */
export class ThreadCompute implements ComputePort {
  private readonly threads: Threads;
  /** of what is under way: its end, and what ends it */
  private readonly underWay = new Map<Promise<unknown>, AbortController>();
  private closed = false;

  /**
   * @param dataFolder of the store that threads work with
   * @param owner who is said to do the work
   * @param shared threads that outlive this server
   */
  constructor(
    private readonly dataFolder: string,
    private readonly owner: string,
    private readonly shared?: Threads,
  ) {
    this.threads = shared ?? new Threads();
  }

  get size(): number {
    return this.threads.count;
  }

  run<T extends ComputeTask>(task: T, hearing: Hearing = {}): ComputeRun<ComputedOf<T>> {
    return this.begin(task, hearing) as ComputeRun<ComputedOf<T>>;
  }

  /** Looks through the archive of a project, which lies in the data folder. @throws MeshError as of `readPack` */
  unpack(path: string): Promise<ReadPack> {
    return this.begin({ kind: 'unpack', path }).result as Promise<ReadPack>;
  }

  private begin(task: ComputeTask | UnpackTask, { progress, beat }: Hearing = {}): ComputeRun<DoneTask['done']> {
    const cancel = new SharedArrayBuffer(4);
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (m: { progress: number; phase: string }) => progress?.(m.progress, m.phase));
    port1.unref();
    const abort = new AbortController();
    let timer: NodeJS.Timeout | undefined;
    // a thread that dies rejects its task: for as long as that is open, it is done
    const beating = beat && setInterval(() => beat(this.owner), beatMs).unref();
    const result = this.inThread({ task, dataFolder: this.dataFolder, port: port2, cancel }, abort).finally(() => {
      clearTimeout(timer);
      clearInterval(beating);
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

  private async inThread(message: ForThread, abort: AbortController): Promise<DoneTask['done']> {
    if (this.closed) throw new Error('The server has been stopped.');
    const options = { signal: abort.signal, transferList: [message.port] };
    const done = this.threads.pool.run(message, options) as Promise<DoneTask | FailedTask>;
    this.underWay.set(done, abort);
    try {
      const answer = await done;
      if ('failed' in answer) throw errorOf(answer);
      return answer.done;
    } catch (error) {
      if (abort.signal.aborted) throw new MeshError('cancelled', 'Cancelled before it was done.');
      throw error;
    } finally {
      this.underWay.delete(done);
    }
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
