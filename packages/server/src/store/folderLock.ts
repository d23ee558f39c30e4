import type { Client } from '@libsql/client';
import Sqlite from 'libsql';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { clientOf } from './clientOf.ts';
import { troubleOf } from './troubles.ts';

/** Somebody else works in the data folder. */
export class FolderInUse extends Error {
  constructor(folder: string, by: string) {
    super(`The data folder ${folder} is in use${by}. Stop that server first, or take another folder with --data.`);
    this.name = 'FolderInUse';
  }
}

const lockIn = (folder: string): string => join(folder, 'lock.db');

/**
 * Keeps a server from beginning in a data folder while it is read, and changes no byte there: several may read at once.
 *
 * @returns whether a server works in the folder just now, which goes on; and what lets the folder go
 */
export function shareFolder(folder: string): { inUse: boolean; release(): void } {
  const file = lockIn(folder);
  // no server ever worked there
  if (!existsSync(file)) return { inUse: false, release: () => undefined };
  let connection: Sqlite.Database;
  try {
    connection = new Sqlite(file);
  } catch (error) {
    // where the lock cannot even be opened no server can work
    if (troubleOf(error)?.code !== 'read-only') throw error;
    return { inUse: false, release: () => undefined };
  }
  const release = (): void => void connection.close();
  try {
    connection.exec('BEGIN');
    // reading takes the lock, and the transaction keeps it
    connection.prepare('SELECT count(*) FROM sqlite_schema').all();
    return {
      inUse: false,
      release() {
        connection.exec('COMMIT');
        release();
      },
    };
  } catch (error) {
    release();
    const code = troubleOf(error)?.code;
    if (code !== 'database-busy' && code !== 'read-only') throw error;
    return { inUse: code === 'database-busy', release: () => undefined };
  }
}

/**
 * Takes the data folder for this process. The lock is SQLite's own on a file beside the database: the operating system
 * lets it go when the process ends, however it ends, and so nothing stale is ever left.
 *
 * @throws FolderInUse when another process has it
 */
export async function lockFolder(folder: string): Promise<{ say(text: string): void; release(): Promise<void> }> {
  const note = join(folder, 'in-use.txt');
  const client = clientOf(lockIn(folder));
  try {
    await client.execute('PRAGMA locking_mode = EXCLUSIVE');
    await client.execute('PRAGMA journal_mode = DELETE');
    // refused before anything is written; in this mode the lock of the first write is kept until the connection closes
    await client.executeMultiple(
      `BEGIN EXCLUSIVE;
       CREATE TABLE IF NOT EXISTS held (at TEXT);
       DELETE FROM held;
       INSERT INTO held VALUES (datetime('now'));
       COMMIT`,
    );
  } catch (error) {
    // somebody has it, or it cannot be read
    await letGo(client).catch(() => client.close());
    if (troubleOf(error)?.code !== 'database-busy') throw error;
    let by = '';
    try {
      by = ` by ${readFileSync(note, 'utf8').trim()}`;
    } catch {
      // it has not said who it is
    }
    throw new FolderInUse(folder, by);
  }
  return {
    say: (text) => writeFileSync(note, `${text}\n`),
    async release() {
      if (client.closed) return;
      rmSync(note, { force: true });
      await letGo(client);
    },
  };
}

/** Closing alone lets a lock go only once every statement has been collected as garbage. */
async function letGo(client: Client): Promise<void> {
  await client.execute('PRAGMA locking_mode = NORMAL');
  await client.execute('SELECT count(*) FROM sqlite_schema');
  client.close();
}
