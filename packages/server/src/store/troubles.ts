/** What went wrong with the disk or the database, told apart so that it can be said in words. */
export interface Trouble {
  code:
    | 'disk-full'
    | 'read-only'
    | 'database-busy'
    | 'database-damaged'
    | 'database-newer'
    | 'file-missing'
    | 'file-damaged';
  message: string;
  hint: string;
}

const words: Record<Trouble['code'], Omit<Trouble, 'code'>> = {
  'disk-full': {
    message: 'The disk is full. What was there before is kept; this was not.',
    hint: 'Make room on the disk of the data folder, then ask again.',
  },
  'read-only': {
    message: 'The data folder cannot be written. What was there before is kept; this was not.',
    hint: 'Give the server the right to write into the data folder, then ask again.',
  },
  'database-busy': {
    message: 'Another program holds the database. Nothing was changed.',
    hint: 'Close what else has jasmorphe.db open (a backup, a viewer), then ask again.',
  },
  'database-damaged': {
    message: 'The database is damaged. The meshes and your files beside it are untouched.',
    hint: 'Stop the server, copy the data folder, then run "jasmorphe doctor" on it.',
  },
  'database-newer': {
    message: 'The database is of a newer version of this program, or of another program, and was left as it is.',
    hint: 'Use that version, or restore a backup that this one made into a folder of its own.',
  },
  'file-missing': {
    message: 'A file of the data folder is missing.',
    hint: '"jasmorphe doctor" tells which, and what needs it. Copy it back from a backup, or do the step again.',
  },
  'file-damaged': {
    message: 'A file of the data folder does not hold what its name says: it was changed or the disk lost a bit.',
    hint: '"jasmorphe doctor" tells which. Copy it back from a backup, or do the step again.',
  },
};

/** An error whose kind is known already. */
export class StoreError extends Error {
  constructor(
    readonly trouble: Trouble['code'],
    readonly about: string,
  ) {
    super(`${words[trouble].message} (${about})`);
    this.name = 'StoreError';
  }
}

/** Codes of the operating system and of SQLite, by the start of their names. */
const kinds: [RegExp, Trouble['code']][] = [
  [/^(ENOSPC|EDQUOT|SQLITE_FULL)/, 'disk-full'],
  [/^(EACCES|EROFS|EPERM|SQLITE_READONLY|SQLITE_CANTOPEN|SQLITE_PERM)/, 'read-only'],
  [/^(SQLITE_BUSY|SQLITE_LOCKED)/, 'database-busy'],
  [/^(SQLITE_CORRUPT|SQLITE_NOTADB)/, 'database-damaged'],
  [/^ENOENT/, 'file-missing'],
];

/** Numbers of SQLite's result codes (sqlite.org/rescode.html) that come without their names, where a file cannot be opened at all. */
const numbered: Readonly<Record<string, string>> = {
  3: 'SQLITE_PERM',
  8: 'SQLITE_READONLY',
  13: 'SQLITE_FULL',
  14: 'SQLITE_CANTOPEN',
  26: 'SQLITE_NOTADB',
};

function codeIn({ code, message }: { code?: unknown; message?: unknown }): string {
  if (typeof code === 'string' && code !== '') return code;
  const number = typeof message === 'string' && /^ConnectionFailed\(.*: (\d+)"\)$/s.exec(message)?.[1];
  return (number && numbered[number]) || '';
}

/** The trouble behind an error of the disk or the database; null for any other error. */
export function troubleOf(error: unknown): Trouble | null {
  for (
    let e = error as { code?: unknown; message?: unknown; cause?: unknown } | undefined, depth = 0;
    e && depth < 6;
    depth++
  ) {
    if (e instanceof StoreError) {
      const { message, hint } = words[e.trouble];
      return { code: e.trouble, message: `${message.replace(/[.]$/, '')}: ${e.about}.`, hint };
    }
    // what stands in a column as JSON and is none; of a body of a request it is told with its type
    if (e instanceof SyntaxError && /JSON/.test(e.message) && !('type' in e))
      return { code: 'database-damaged', ...words['database-damaged'] };
    const code = codeIn(e);
    const kind = kinds.find(([pattern]) => pattern.test(code));
    if (kind) return { code: kind[1], ...words[kind[1]] };
    e = e.cause as typeof e;
  }
  return null;
}

/** True when the same write may well succeed a moment later. */
export const mayPass = (error: unknown): boolean => troubleOf(error)?.code === 'database-busy';
