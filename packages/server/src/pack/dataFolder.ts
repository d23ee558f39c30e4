import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import type { BackupView } from '@jasmorphe/contracts/kitViews';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { asMeshTrouble } from '../store/errorWords.ts';
import { BlobStore } from '../store/BlobStore.ts';
import { openDatabase, type Database } from '../store/database.ts';
import { FolderInUse, lockFolder } from '../store/folderLock.ts';
import { Library } from '../store/Library.ts';
import { readFolder } from '../store/readFolder.ts';
import { writeNew } from '../store/writeNew.ts';
import { backUp, countOfFolder, restoreTo } from './backup.ts';
import { alteredAgainstTerms, writePack, type PackCount } from './packArchive.ts';
import { Packs } from './Packs.ts';
import { putPack, readPack } from './readPack.ts';

/** @throws MeshError where there is no database in a folder */
function mustBeData(folder: string): void {
  if (!existsSync(join(folder, 'jasmorphe.db')))
    throw new MeshError('cannot', `There is no jasmorphe.db in ${folder}.`, 'Is it the right folder?');
}

/** What is done with an opened database. */
type Work<T> = (library: Library, blobs: BlobStore) => Promise<T>;

async function opened<T>(database: Database, blobs: BlobStore, work: Work<T>): Promise<T> {
  try {
    return await work(new Library(database, blobs), blobs);
  } catch (error) {
    throw asMeshTrouble(error);
  } finally {
    await database.close();
  }
}

/** Reads what is in a data folder and changes nothing there; a server may work in it. */
export async function reading<T>(folder: string, work: Work<T>): Promise<T> {
  mustBeData(folder);
  return readFolder(folder, async ({ file, blobs }) => opened(await openDatabase(file, 'copy'), blobs, work));
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
  reading(folder, async (library, blobs) => {
    const packs = new Packs(library);
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
  return alone(folder, async () =>
    opened(await openDatabase(join(folder, 'jasmorphe.db')), new BlobStore(folder), async (library, blobs) => {
      const read = await readPack(archive, blobs);
      return library.arrivals.taking((take) => putPack(read, take, new Packs(library)));
    }),
  );
};

export const backUpFolder = async (
  folder: string,
  to: string,
  progress: (fraction: number) => void,
): Promise<BackupView> => {
  mustBeData(folder);
  const database = await openDatabase(join(folder, 'jasmorphe.db'), 'as-it-is');
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
