import { createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/**
 * Writes what a stream gives into a new file. Where that fails, nothing is left of it by the time the error is told: a stream that
 * was given up while its file was still being opened makes that file all the same, a moment later.
 *
 * @param through what it passes on its way
 */
export async function writeNew(path: string, from: Readable, through?: Transform): Promise<void> {
  const to = createWriteStream(path, { flags: 'wx', flush: true });
  const closed = new Promise<void>((done) => void to.once('close', () => done()));
  try {
    await (through ? pipeline(from, through, to) : pipeline(from, to));
  } catch (error) {
    await closed;
    await rm(path, { force: true });
    throw error;
  }
}
