import { readFileSync, rmSync, writeFileSync } from 'node:fs';
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

/**
 * Takes the data folder for this process. The lock is SQLite's own on a file beside the database: the operating system
 * lets it go when the process ends, however it ends, and so nothing stale is ever left.
 *
 * @throws FolderInUse when another process has it
 */
export async function lockFolder(folder: string): Promise<{ say(text: string): void; release(): Promise<void> }> {
  const note = join(folder, 'in-use.txt');
  const client = clientOf(join(folder, 'lock.db'));
  try {
    await client.execute('PRAGMA locking_mode = EXCLUSIVE');
    await client.execute('PRAGMA journal_mode = DELETE');
    // in this mode the lock of the first write is kept until the connection closes
    await client.batch(['CREATE TABLE IF NOT EXISTS held (at TEXT)', 'DELETE FROM held'], 'write');
    await client.execute({ sql: 'INSERT INTO held VALUES (?)', args: [new Date().toISOString()] });
  } catch (error) {
    client.close();
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
      // closing alone lets the lock go only once every statement has been collected as garbage
      await client.execute('PRAGMA locking_mode = NORMAL');
      await client.execute('SELECT count(*) FROM held');
      client.close();
    },
  };
}
