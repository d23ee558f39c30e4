import { createClient } from '@libsql/client';
import { drizzle } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { fileURLToPath } from 'node:url';
import * as schema from './schema.ts';

export type Database = Awaited<ReturnType<typeof openDatabase>>['db'];

/** Opens the database, applies the migrations that are missing, and sets WAL mode and foreign keys. */
export async function openDatabase(file: string) {
  const client = createClient({ url: `file:${file}` });
  await client.execute('PRAGMA journal_mode = WAL');
  await client.execute('PRAGMA busy_timeout = 5000');
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder: fileURLToPath(new URL('../../migrations', import.meta.url)) });
  await client.execute('PRAGMA foreign_keys = ON');
  return { db, close: () => client.close() };
}
