import type { Client } from '@libsql/client';
import type { BatchItem } from 'drizzle-orm/batch';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { open, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { log } from '../log.ts';
import { clientOf } from './clientOf.ts';
import { brokenTexts, wordsOf } from './damagedDatabase.ts';
import { PreparedReader } from './PreparedReader.ts';
import * as relations from './relations.ts';
import * as tables from './schema.ts';
import { migrationsFolder, schemaAgeOf } from './schemaAge.ts';
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

/** Beside a database: what it was before the last migration. */
const beforeMigration = 'before-migration.db';

/** Keeps a whole copy of a database beside it, in the place of the one that was kept before the migration before. */
async function keepCopy(client: Client, file: string): Promise<void> {
  const kept = join(dirname(file), beforeMigration);
  const fresh = `${kept}.part`;
  await rm(fresh, { force: true });
  await client.execute({ sql: 'VACUUM INTO ?', args: [fresh] });
  const written = await open(fresh, 'r+');
  try {
    await written.sync();
  } finally {
    await written.close();
  }
  await rename(fresh, kept);
}

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
 * What a database is opened for: to be kept, so that a copy stays beside it before it is migrated; as a copy to work in for a while;
 * or to be read as it is, in the tables of whatever version wrote it.
 */
export type DatabaseUse = 'keep' | 'copy' | 'as-it-is';

/**
 * Opens the database, applies the migrations that are missing, and sets WAL mode and foreign keys. What a newer version wrote is
 * left as it is.
 *
 * @throws StoreError `database-damaged` where texts in it are none: the driver would end the process at the first of them;
 *   `database-newer`
 */
export async function openDatabase(file: string, use: DatabaseUse = 'keep'): Promise<Database> {
  const client = await connect(file);
  let writing: Client | null = null;
  try {
    const broken = await brokenTexts(client);
    if (broken?.length !== 0) throw new StoreError('database-damaged', wordsOf(broken));
    const age = await schemaAgeOf(client);
    if (age === 'newer') throw new StoreError('database-newer', basename(file));
    if (use !== 'as-it-is') {
      if (age === 'older' && use === 'keep') await keepCopy(client, file);
      await client.execute('PRAGMA journal_mode = WAL');
      await migrate(drizzle(client), { migrationsFolder });
      await client.execute('PRAGMA foreign_keys = ON');
    }
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
          log.warn(error, 'The write-ahead file was not emptied');
        });
        client.close();
      },
    };
  } catch (error) {
    client.close();
    throw error;
  }
}
