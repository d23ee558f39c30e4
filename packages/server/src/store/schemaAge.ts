import type { Client } from '@libsql/client';
import { getTableColumns, getTableName, type Table } from 'drizzle-orm';
import { readMigrationFiles } from 'drizzle-orm/migrator';
import { fileURLToPath } from 'node:url';
import * as tables from './schema.ts';

export const migrationsFolder = fileURLToPath(new URL('../../migrations', import.meta.url));

/** How a database stands to the tables of this version: it has none yet, lacks migrations, has all, or has what we know nothing of. */
export type SchemaAge = 'fresh' | 'older' | 'ours' | 'newer';

/** Where Drizzle notes which migrations were applied: each by the time it was made, ms. */
const notes = '__drizzle_migrations';

let known: number[] | undefined;
const ourMigrations = (): number[] =>
  (known ??= readMigrationFiles({ migrationsFolder }).map((migration) => migration.folderMillis));

/**
 * Tells by which migrations a database went through, and by its columns, who wrote it; changes nothing.
 *
 * A migration that is not among ours makes it newer; so does a table or column that ours do not have once all of ours are
 * applied (of names that begin with `_` others may make use).
 */
export async function schemaAgeOf(client: Client): Promise<SchemaAge> {
  const { rows } = await client.execute(`SELECT name FROM sqlite_schema WHERE type = 'table'`);
  const names = rows.map((row) => row[0] as string);
  if (!names.includes(notes)) return names.some((name) => isOurs(name)) ? 'newer' : 'fresh';
  const applied = (await client.execute(`SELECT created_at FROM ${notes}`)).rows.map((row) => Number(row[0]));
  if (applied.length === 0) return 'fresh';
  const ours = ourMigrations();
  if (applied.some((at) => !ours.includes(at))) return 'newer';
  // Drizzle goes by the last one alone
  if (Math.max(...applied) < ours.at(-1)!) return 'older';
  const columnsOf = new Map<string, Set<string>>(
    Object.values<Table>(tables).map((table) => [
      getTableName(table),
      new Set(Object.values(getTableColumns(table)).map((column) => column.name)),
    ]),
  );
  for (const name of names.filter(isOurs)) {
    const columns = columnsOf.get(name);
    if (!columns) return 'newer';
    const there = await client.execute({ sql: 'SELECT name FROM pragma_table_info(?)', args: [name] });
    if (there.rows.some((row) => !columns.has(row[0] as string))) return 'newer';
  }
  return 'ours';
}

/** Neither SQLite's own nor Drizzle's. */
const isOurs = (name: string): boolean => !name.startsWith('_') && !name.startsWith('sqlite_');
