import type { Client } from '@libsql/client';
import type { BatchItem } from 'drizzle-orm/batch';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { fileURLToPath } from 'node:url';
import { clientOf } from './clientOf.ts';
import { brokenTexts, wordsOf } from './damagedDatabase.ts';
import { PreparedReader } from './PreparedReader.ts';
import * as relations from './relations.ts';
import * as tables from './schema.ts';
import { mayPass, StoreError } from './troubles.ts';

const schema = { ...tables, ...relations };

/** Reads; what is built with it is written by `Database.write`. */
export type Reading = LibSQLDatabase<typeof schema>;

/** One change of the database, waiting to be made together with others. */
export type Statement = BatchItem<'sqlite'>;

/** The open database: one connection that reads, one that writes, and one for what is said to SQLite itself. */
export interface Database {
  db: Reading;
  client: Client;
  /** path of its file */
  file: string;
  /**
   * Makes all changes or none. While another program holds the database it tries again for so long, half a minute if
   * nothing is said. One call at a time: see `Writer`.
   */
  write(statements: readonly Statement[], patienceMs?: number): Promise<void>;
  /** Empties the write-ahead file into the database, so that the one file is the whole, and closes it. */
  close(): Promise<void>;
}

/**
 * How long SQLite itself waits for another program, ms. Short, since it keeps the whole process waiting; writes are
 * tried again from outside.
 */
const busyMs = 100;

/** How long a change waits for another program to let the database go, ms. */
const usualPatienceMs = 30_000;

const migrationsFolder = fileURLToPath(new URL('../../migrations', import.meta.url));

/** One connection: what is set holds for every statement that goes through it. */
async function connect(file: string): Promise<Client> {
  const client = clientOf(file);
  try {
    await client.execute(`PRAGMA busy_timeout = ${busyMs}`);
    await client.execute('PRAGMA foreign_keys = ON');
    return client;
  } catch (error) {
    client.close();
    throw error;
  }
}

/**
 * Opens the database, applies the migrations that are missing, and sets WAL mode and foreign keys.
 *
 * @throws StoreError `database-damaged` where texts in it are none: the driver would end the process at the first of them
 */
export async function openDatabase(file: string): Promise<Database> {
  const client = await connect(file);
  let writing: Client | null = null;
  try {
    const broken = await brokenTexts(client);
    if (broken?.length !== 0) throw new StoreError('database-damaged', wordsOf(broken));
    await client.execute('PRAGMA journal_mode = WAL');
    await migrate(drizzle(client), { migrationsFolder });
    await client.execute('PRAGMA foreign_keys = ON');
    const reader = new PreparedReader(file, busyMs);
    const db = drizzle(reader.client, { schema });
    const once = async ([first, ...rest]: readonly Statement[]): Promise<void> => {
      writing ??= await connect(file);
      try {
        await drizzle(writing, { schema }).batch([first, ...rest]);
      } catch (error) {
        // a statement that met a busy database stays open on its connection until it is collected as garbage, and
        // nothing can be committed there meanwhile ("SQL statements in progress"): the next try gets a new one
        writing.close();
        writing = null;
        throw error;
      }
    };
    return {
      db,
      client,
      file,
      async write(statements, patienceMs = usualPatienceMs) {
        if (statements.length === 0) return;
        for (let waited = 0, pause = 50; ; pause = Math.min(2 * pause, 1000)) {
          try {
            return await once(statements);
          } catch (error) {
            if (!mayPass(error) || waited >= patienceMs) throw error;
            await new Promise((resolve) => setTimeout(resolve, pause));
            waited += pause;
          }
        }
      },
      async close() {
        writing?.close();
        writing = null;
        if (client.closed) return;
        reader.close();
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
