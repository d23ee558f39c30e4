import { existsSync } from 'node:fs';
import { copyFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BlobStore } from './BlobStore.ts';
import { clientOf } from './clientOf.ts';
import { shareFolder } from './folderLock.ts';

/** Files in which SQLite keeps what is not in the database itself yet. */
const besides = ['-wal', '-journal'];

/** What is read of a data folder: a copy of its database, which may be migrated, and its files. */
export interface ReadFolder {
  /** the copy */
  file: string;
  blobs: BlobStore;
  /** a server works in the folder meanwhile */
  inUse: boolean;
}

/**
 * Reads a data folder and changes nothing in it, on any disk: the database is copied to where it can be opened, and no server can
 * begin there meanwhile. One that works there already goes on.
 */
export async function readFolder<T>(folder: string, read: (what: ReadFolder) => Promise<T>): Promise<T> {
  const share = shareFolder(folder);
  try {
    return await withCopy(join(folder, 'jasmorphe.db'), share.inUse, (file) =>
      read({ file, blobs: new BlobStore(folder, true), inUse: share.inUse }),
    );
  } finally {
    share.release();
  }
}

/** Does something with a copy of a database, which lies elsewhere for as long: one that is opened where it is leaves files beside it. */
export async function withCopy<T>(database: string, inUse: boolean, use: (copy: string) => Promise<T>): Promise<T> {
  const beside = await mkdtemp(join(tmpdir(), 'jasmorphe-read-'));
  try {
    const copy = join(beside, 'jasmorphe.db');
    await copyDatabase(database, copy, inUse);
    return await use(copy);
  } finally {
    await rm(beside, { recursive: true, force: true });
  }
}

/**
 * Copies a database as it is at one instant. Beside a server that is done within a transaction that reads: until it ends, nothing of
 * the write-ahead file is overwritten that the database file, copied first, lacks (sqlite.org/walformat.html, "Reader algorithm").
 */
async function copyDatabase(from: string, to: string, inUse: boolean): Promise<void> {
  const copy = async (): Promise<void> => {
    for (const end of ['', ...besides]) if (existsSync(from + end)) await copyFile(from + end, to + end);
  };
  if (!inUse) return copy();
  const client = clientOf(from);
  try {
    const reading = await client.transaction('read');
    try {
      await reading.execute('SELECT count(*) FROM sqlite_schema');
      await copy();
    } finally {
      reading.close();
    }
  } finally {
    client.close();
  }
}
