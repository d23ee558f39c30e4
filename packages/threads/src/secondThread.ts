import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { PieceName, SecondThread as RunThere } from '@jasmorphe/core/run/context';
import { MeshError, type MeshErrorCode } from '@jasmorphe/core/run/MeshError';
import type { PieceAnswer, PieceTask } from './pieceWorker.ts';

export interface SecondThread {
  /** undefined where the machine has one core only */
  run: RunThere | undefined;
  /** Ends the thread, whatever it is doing. */
  close(): Promise<void>;
}

/**
 * A thread that runs pieces of core's work beside the one that asks, one after another. It is not started before the
 * first is asked for. A plain worker, and no pool: a pool hands work over in its event loop, which waits for the long
 * computations of the thread that asks, while a message posted to a worker is under way at once.
 */
export function secondThread(): SecondThread {
  const waiting = new Map<number, { resolve: (value: unknown) => void; reject: (error: unknown) => void }>();
  let worker: Worker | undefined;
  let asked = 0;
  const fail = (error: unknown): void => {
    for (const { reject } of waiting.values()) reject(error);
    waiting.clear();
  };
  const start = (): Worker => {
    const file = import.meta.url.endsWith('.ts') ? './sourceWorker.mjs' : './pieceWorker.js';
    const started = new Worker(new URL(file, import.meta.url));
    started.on('message', ({ id, ...answer }: PieceAnswer) => {
      const asker = waiting.get(id);
      waiting.delete(id);
      if (waiting.size === 0) started.unref();
      if ('value' in answer) asker?.resolve(answer.value);
      else asker?.reject(new MeshError(answer.failed.code as MeshErrorCode, answer.failed.message, answer.failed.hint));
    });
    started.on('error', fail);
    started.on('exit', () => fail(new MeshError('cancelled', 'Cancelled before it was done.')));
    return started;
  };
  const run = (name: PieceName, ...args: unknown[]): Promise<unknown> =>
    new Promise((resolve, reject) => {
      worker ??= start();
      const task: PieceTask = { id: asked++, name, args };
      waiting.set(task.id, { resolve, reject });
      worker.ref();
      worker.postMessage(task);
    });
  return {
    run: availableParallelism() > 1 ? run : undefined,
    async close() {
      await worker?.terminate();
      worker = undefined;
    },
  };
}
