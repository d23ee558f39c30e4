import type { Client, InStatement, ResultSet } from '@libsql/client';
import Sqlite from 'libsql';

/** So many statements stay prepared. */
const most = 400;

/**
 * A connection that reads and cannot write, and prepares each text once: by itself that takes as long as a small question does, and the
 * client of libSQL does it, and asks for the columns twice, every time. It is as much of a client as Drizzle asks columns of.
 */
export class PreparedReader {
  private readonly connection: Sqlite.Database;
  /** by text, the one asked last at the end */
  private readonly prepared = new Map<string, Sqlite.Statement>();

  /** @param busyMs how long SQLite itself waits for another program */
  constructor(file: string, busyMs: number) {
    this.connection = new Sqlite(file);
    this.connection.exec(`PRAGMA busy_timeout = ${busyMs}; PRAGMA query_only = ON`);
  }

  /** For Drizzle alone: rows have their values in the order of the columns, and no names. */
  get client(): Client {
    return { execute: (asked: InStatement) => this.execute(asked) } as Pick<Client, 'execute'> as Client;
  }

  close(): void {
    this.prepared.clear();
    this.connection.close();
  }

  // promises a result as a client does: what goes wrong rejects, and never throws
  private async execute(asked: InStatement): Promise<ResultSet> {
    const { sql, args = [] } = typeof asked === 'string' ? { sql: asked } : asked;
    const statement = this.prepared.get(sql) ?? this.connection.prepare(sql).raw(true);
    // one that meets an error stays open until it is collected as garbage: it is not asked again
    this.prepared.delete(sql);
    const rows = statement.all(args) as ResultSet['rows'];
    this.prepared.set(sql, statement);
    if (this.prepared.size > most) this.prepared.delete(this.prepared.keys().next().value!);
    return { rows } as ResultSet;
  }
}
