import type { MessagePort } from 'node:worker_threads';
import type { OperationContext } from '@jasmorphe/core/operations/Operation';
import { cancelledError } from '@jasmorphe/core/run/context';
import { dropKernel } from '@jasmorphe/core/solid/kernel';
import { secondThread } from '@jasmorphe/threads/secondThread';
import type { ReadPack } from '../pack/readPack.ts';
import { BlobStore } from '../store/BlobStore.ts';
import { errorWords } from '../store/errorWords.ts';
import { collectGarbage } from './collectGarbage.ts';
import { compute } from '../compute/compute.ts';
import type { Computed, ComputeTask } from '../compute/ComputePort.ts';

/** Looks through the archive of a project: a file of this computer, whose files are put beside those of the store. */
export interface UnpackTask {
  kind: 'unpack';
  path: string;
}

/** A task as a thread of the server gets it, and what it needs to do it there. */
export interface ForThread {
  task: ComputeTask | UnpackTask;
  dataFolder: string;
  /** hears how far it is */
  port: MessagePort;
  /** one Int32: 1 once the maker has cancelled */
  cancel: SharedArrayBuffer;
}

/** Errors cross the thread as plain data, so that their code and hint are kept. */
export interface FailedTask {
  failed: { code: string; message: string; hint: string; field?: string };
}

export interface DoneTask {
  done: Computed[ComputeTask['kind']] | ReadPack;
}

/** Memory that a kernel may keep from one task to the next, bytes: usual parts need less, and to load it anew takes as long as a page. */
const kernelAtMost = 96 * 2 ** 20;

export default async function work({ task, dataFolder, port, cancel }: ForThread): Promise<DoneTask | FailedTask> {
  const store = new BlobStore(dataFolder);
  const second = secondThread();
  try {
    if (task.kind === 'unpack') {
      // what a pack is held to takes longer to read than a thread should to begin
      const { readPack } = await import('../pack/readPack.ts');
      return { done: await readPack(task.path, store) };
    }
    return { done: await compute(task, store, contextOf(port, new Int32Array(cancel), second.run)) };
  } catch (error) {
    const words = errorWords(error);
    if (!words) throw error;
    return { failed: words };
  } finally {
    await second.close();
    // what of a thread's memory is neither its heap nor buffers is the kernel's
    const { external, arrayBuffers } = process.memoryUsage();
    if (external - arrayBuffers > kernelAtMost && dropKernel())
      // when the answer is out, and with it whatever still held the kernel
      setImmediate(collectGarbage);
  }
}

function contextOf(port: MessagePort, cancelled: Int32Array, run: OperationContext['secondThread']): OperationContext {
  let saidAt = 0;
  return {
    seed: 1,
    secondThread: run,
    progress(fraction, phase) {
      const now = Date.now();
      if (now - saidAt < 100 && fraction < 1) return;
      saidAt = now;
      port.postMessage({ progress: fraction, phase });
    },
    checkCancelled() {
      if (Atomics.load(cancelled, 0) !== 0) throw cancelledError();
    },
  };
}
