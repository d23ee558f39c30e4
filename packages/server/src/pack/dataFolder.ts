import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import type { BackupView } from '@jasmorphe/contracts/kitViews';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { asMeshTrouble } from '../http/ApiError.ts';
import { BlobStore } from '../store/BlobStore.ts';
import { openDatabase } from '../store/database.ts';
import { FolderInUse, lockFolder } from '../store/folderLock.ts';
import { Library } from '../store/Library.ts';
import { writeNew } from '../store/writeNew.ts';
import { backUp, countOfFolder, restoreTo } from './backup.ts';
import { alteredAgainstTerms, writePack, type PackCount } from './packArchive.ts';
import { putPack, readPack } from './readPack.ts';

/** Opens what is in a data folder, for as long as something is done with it. Reads beside a server that works there. */
export async function withFolder<T>(
  folder: string,
  work: (library: Library, blobs: BlobStore) => Promise<T>,
  fresh = false,
): Promise<T> {
  const file = join(folder, 'jasmorphe.db');
  if (!fresh && !existsSync(file))
    throw new MeshError('cannot', `There is no jasmorphe.db in ${folder}.`, 'Is it the right folder?');
  const blobs = new BlobStore(folder);
  const database = await openDatabase(file);
  try {
    return await work(new Library(database, blobs), blobs);
  } catch (error) {
    throw asMeshTrouble(error);
  } finally {
    await database.close();
  }
}

/** Takes a folder for oneself. @throws MeshError where a server works in it */
async function alone<T>(folder: string, work: () => Promise<T>): Promise<T> {
  mkdirSync(folder, { recursive: true });
  let lock: Awaited<ReturnType<typeof lockFolder>>;
  try {
    lock = await lockFolder(folder);
  } catch (error) {
    if (!(error instanceof FolderInUse)) throw error;
    throw new MeshError('cannot', error.message, 'Do it on the page of that server, or stop it first.');
  }
  try {
    return await work();
  } finally {
    await lock.release();
  }
}

/** Packs a project, by its name or id, into an archive: whole or not at all. */
export const packFrom = (folder: string, project: string, to: string, word: boolean): Promise<PackCount> =>
  withFolder(folder, async ({ packs }, blobs) => {
    const packed = await packs.snapshot(await packs.find(project));
    const altered = alteredAgainstTerms(packed.rows);
    if (altered.length > 0 && !word)
      throw new MeshError(
        'cannot',
        `The terms of ${altered.slice(0, 3).join(', ')} keep altered files from being passed on.`,
        'Pack it for yourself alone with --word. The pack is marked.',
      );
    const temporary = join(dirname(resolve(to)), `.${randomUUID()}.part`);
    try {
      const { stream, count } = writePack(packed, blobs);
      await writeNew(temporary, stream);
      await rename(temporary, to);
      return { ...count, bytes: (await stat(to)).size };
    } catch (error) {
      await rm(temporary, { force: true });
      throw error;
    }
  });

/** Unpacks an archive into a data folder, which may be a new one. */
export const unpackInto = (folder: string, archive: string): Promise<PackCount & { projectId: string }> => {
  if (!existsSync(archive))
    throw new MeshError('cannot', `"${archive}" cannot be read: there is no such file.`, 'Check the path.');
  return alone(folder, () =>
    withFolder(
      folder,
      async ({ packs, arrivals }, blobs) => {
        const read = await readPack(archive, blobs);
        return arrivals.taking((take) => putPack(read, take, packs));
      },
      true,
    ),
  );
};

export const backUpFolder = async (
  folder: string,
  to: string,
  progress: (fraction: number) => void,
): Promise<BackupView> => {
  const file = join(folder, 'jasmorphe.db');
  if (!existsSync(file))
    throw new MeshError('cannot', `There is no jasmorphe.db in ${folder}.`, 'Is it the right folder?');
  const database = await openDatabase(file);
  try {
    return await backUp(database, new BlobStore(folder), to, progress);
  } finally {
    await database.close();
  }
};

export const restoreFolder = (folder: string, from: string, anyway: boolean): Promise<PackCount & { lost: number }> =>
  alone(folder, async () => {
    const lost = await restoreTo(folder, from, anyway);
    return { ...(await countOfFolder(folder)), lost };
  });
