import { sql, type SQL, type SQLWrapper } from 'drizzle-orm';

/** A query whose SQL was written when it was prepared; it is asked with a list of names. */
interface ByNames<Row> {
  execute(values: { names: string }): Promise<Row[]>;
}

/**
 * Is a column one of the names that the query is asked with? As a list in one value the text is the same for any number of
 * them, so it is written and prepared once.
 *
 * @param list what the list is called that the query is asked with
 */
export const isNamed = (column: SQLWrapper, list = 'names'): SQL =>
  sql`${column} in (select value from json_each(${sql.placeholder(list)}))`;

/** Is a column one of these names? Asked once, of as many as there are: they are one value. */
export const isOneOf = (column: SQLWrapper, names: readonly (string | null)[]): SQL =>
  sql`${column} in (select value from json_each(${JSON.stringify(names)}))`;

/** Rows of many things by name, in one question; of none nothing is asked. */
export const rowsOf = <Row>(query: ByNames<Row>, names: readonly string[]): Promise<Row[]> =>
  names.length === 0 ? Promise.resolve([]) : query.execute({ names: JSON.stringify(names) });
