import { createClient } from '@libsql/client';
import { drizzle } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { fileURLToPath } from 'node:url';
import * as schema from './schema.ts';

export type Database = Awaited<ReturnType<typeof openDatabase>>['db'];

/**
 * How long SQLite itself waits for another program, ms. Short, since it keeps the whole process waiting; writes are
 * tried again from outside (`Library.commit`).
 */
const busyMs = 100;

const migrationsFolder = fileURLToPath(new URL('../../migrations', import.meta.url));

/**
 * Opens the database, applies the migrations that are missing, and sets WAL mode and foreign keys. One connection, so
 * that what is set holds for every statement. Closing empties the write-ahead file into the database, so that the one
 * file is the whole.
 */
export async function openDatabase(file: string) {
  const client = createClient({ url: `file:${file}`, concurrency: 1 });
  try {
    await client.execute(`PRAGMA busy_timeout = ${busyMs}`);
    await client.execute('PRAGMA journal_mode = WAL');
    const db = drizzle(client, { schema });
    await migrate(db, { migrationsFolder });
    await client.execute('PRAGMA foreign_keys = ON');
    return {
      db,
      client,
      async close() {
        if (client.closed) return;
        await client.execute('PRAGMA wal_checkpoint(TRUNCATE)').catch((error: unknown) => {
          // another program reads it just now; the write-ahead file beside it stays and belongs to it
          console.warn('The write-ahead file was not emptied:', error instanceof Error ? error.message : error);
        });
        client.close();
      },
    };
  } catch (error) {
    client.close();
    throw error;
  }
}
