import { stringify } from 'csv-stringify/sync';

/** What stands in a cell: null leaves it empty. */
export type Cell = string | number | null;

/** A spreadsheet takes what begins so for a formula (OWASP, CSV injection). */
const formula = /^[=+\-@\t\r]/;
const figure = /^-?\d+(\.\d+)?$/;

/** A table as comma-separated values (RFC 4180), safe to be opened in a spreadsheet: texts stay texts. */
export const csvOf = (heads: readonly string[], rows: readonly (readonly Cell[])[]): string =>
  stringify([heads, ...rows] as Cell[][], {
    record_delimiter: '\r\n',
    // one half of the delimiter of records alone ends a record for some readers
    quoted_match: /[\r\n]/,
    cast: { string: (text) => (formula.test(text) && !figure.test(text) ? `'${text}` : text) },
  });
