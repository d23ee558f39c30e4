import type { Client, InValue } from '@libsql/client';
import { getTableColumns, getTableName, type Table } from 'drizzle-orm';
import { isUtf8 } from 'node:buffer';
import { countOf } from '@jasmorphe/core/words/numbers';
import * as tables from './schema.ts';

/** So many rows are looked at in one question. */
const rowsAtOnce = 1000;

/** A text of the database that is none: its bytes are no UTF-8. */
export interface BrokenText {
  table: string;
  column: string;
  rowid: number;
}

const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;
const bytesOf = (value: unknown): Buffer | null => (value instanceof ArrayBuffer ? Buffer.from(value) : null);

/** What is asked for as bytes, by row: a text that is none can be had in no other way. */
async function rowsOf(client: Client, sql: string, args: InValue[] = []): Promise<(Buffer | null | number)[][]> {
  const { rows } = await client.execute({ sql, args });
  return rows.map((row) => Array.from(row, (v) => (typeof v === 'number' ? v : bytesOf(v))));
}

/** Names, and the words that made them; null where those are broken already. */
async function tablesOf(client: Client): Promise<Map<string, string[]> | null> {
  const out = new Map<string, string[]>();
  const all = `SELECT CAST(name AS BLOB), CAST(coalesce(sql, '') AS BLOB), type = 'table' FROM sqlite_schema`;
  for (const [name, sql, isTable] of await rowsOf(client, all)) {
    if (![name, sql].every((b) => b instanceof Buffer && isUtf8(b))) return null;
    if (isTable === 1) out.set(String(name), []);
  }
  for (const [table, columns] of out)
    for (const [name] of await rowsOf(client, 'SELECT CAST(name AS BLOB) FROM pragma_table_info(?)', [table]))
      columns.push(String(name));
  return out;
}

/**
 * Texts of a database whose bytes are no UTF-8, as a disk that loses bits makes them. Neither SQLite nor its own checks mind
 * them, and the driver ends the whole process where it is given one: whoever opens a database looks for them first. All columns
 * of a thousand rows are drawn together within SQLite and looked at as one, about 10 ms for a megabyte.
 *
 * @returns null where the database does not even say what is in it, or its rows are out of order
 */
export async function brokenTexts(client: Client): Promise<BrokenText[] | null> {
  const tables = await tablesOf(client);
  if (tables === null) return null;
  const found: BrokenText[] = [];
  for (const [table, columns] of tables) {
    const texts = columns.map((c, i) => `CASE typeof(${quoted(c)}) WHEN 'text' THEN ${quoted(c)} END AS c${i}`);
    const some = `SELECT rowid AS id, ${texts.join(', ')} FROM ${quoted(table)} WHERE rowid > ? ORDER BY rowid LIMIT ${rowsAtOnce}`;
    const drawn = columns.map((_, i) => `CAST(group_concat(c${i}, '|') AS BLOB)`);
    const sql = `SELECT max(id), ${drawn.join(', ')} FROM (${some})`;
    for (let after = -1; ;) {
      const [row] = await rowsOf(client, sql, [after]);
      const [last, ...all] = row;
      for (const [i, bytes] of all.entries())
        if (bytes instanceof Buffer && !isUtf8(bytes)) found.push(...(await within(client, table, columns[i], after)));
      if (typeof last !== 'number') break;
      // a torn tree gives the same rows again and again
      if (last <= after) return null;
      after = last;
    }
  }
  return found;
}

/** Which of a column's texts are broken, in the thousand rows behind that one. */
async function within(client: Client, table: string, column: string, after: number): Promise<BrokenText[]> {
  const found: BrokenText[] = [];
  const sql = `SELECT rowid, CASE typeof(${quoted(column)}) WHEN 'text' THEN CAST(${quoted(column)} AS BLOB) END
    FROM ${quoted(table)} WHERE rowid > ? ORDER BY rowid LIMIT ${rowsAtOnce}`;
  for (const [rowid, bytes] of await rowsOf(client, sql, [after]))
    if (bytes instanceof Buffer && !isUtf8(bytes)) found.push({ table, column, rowid: Number(rowid) });
  return found;
}

/** Puts the sign of what cannot be read in the place of every broken byte, so that the rest of the text can be. */
export async function mendTexts(client: Client, broken: readonly BrokenText[]): Promise<void> {
  for (const { table, column, rowid } of broken) {
    const where = `FROM ${quoted(table)} WHERE rowid = ?`;
    const [[bytes]] = await rowsOf(client, `SELECT CAST(${quoted(column)} AS BLOB) ${where}`, [rowid]);
    if (bytes instanceof Buffer)
      await client.execute({
        sql: `UPDATE ${quoted(table)} SET ${quoted(column)} = ? WHERE rowid = ?`,
        args: [bytes.toString('utf8'), rowid],
      });
  }
}

/** Columns of our tables that hold JSON which is none. @param there tables and columns of a database that may be of an earlier version */
async function brokenJson(client: Client, there: ReadonlyMap<string, readonly string[]>): Promise<string[]> {
  const found: string[] = [];
  for (const table of Object.values<Table>(tables))
    for (const column of Object.values(getTableColumns(table))) {
      const [name, of] = [column.name, getTableName(table)];
      if (column.dataType !== 'json' || !there.get(of)?.includes(name)) continue;
      const { rows } = await client.execute(
        `SELECT 1 FROM ${quoted(of)} WHERE ${quoted(name)} IS NOT NULL AND NOT json_valid(${quoted(name)}) LIMIT 1`,
      );
      if (rows.length > 0) found.push(`${of}.${name}`);
    }
  return found;
}

/**
 * What is wrong first in a database besides its texts, which are looked at where it is opened: its pages and indexes (for which
 * SQLite's own check asks no more than without them), then its JSON.
 *
 * @returns null where nothing is
 */
export async function wrongIn(client: Client): Promise<string | null> {
  const there = await tablesOf(client);
  if (there === null) return wordsOf(null);
  const { rows } = await client.execute('PRAGMA integrity_check(1)');
  const said = rows[0]?.[0] as string;
  if (said !== 'ok') return said;
  const [broken] = await brokenJson(client, there);
  return broken === undefined ? null : `what stands in ${broken} cannot be read`;
}

/** What is wrong with texts, as it is told. */
export function wordsOf(broken: readonly BrokenText[] | null): string {
  if (broken === null) return 'what it holds cannot be told';
  const places = [...new Set(broken.map((b) => `${b.table}.${b.column}`))];
  return `${countOf(broken.length, 'text')} in ${places.slice(0, 3).join(', ')} ${broken.length === 1 ? 'has' : 'have'} bytes that no text has`;
}
