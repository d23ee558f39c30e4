import { parentPort } from 'node:worker_threads';
import { pieces } from '@jasmorphe/core/operations/pieces';
import type { PieceName } from '@jasmorphe/core/run/context';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';

/** A piece of work and what it is given. */
export interface PieceTask {
  id: number;
  name: PieceName;
  args: unknown[];
}

/** Errors cross the thread as plain data, so that their code and hint are kept. */
export type PieceAnswer = { id: number } & (
  | { value: unknown }
  | { failed: { code: string; message: string; hint: string } }
);

async function work({ id, name, args }: PieceTask): Promise<PieceAnswer> {
  try {
    return { id, value: await (pieces[name] as (...args: unknown[]) => unknown)(...args) };
  } catch (error) {
    const { code, message, hint } = isMeshError(error) ? error : new MeshError('cannot', String(error));
    return { id, failed: { code, message, hint } };
  }
}

let last = Promise.resolve();
parentPort?.on('message', (task: PieceTask) => {
  last = last.then(async () => parentPort?.postMessage(await work(task)));
});
