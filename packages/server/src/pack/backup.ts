import type { Client } from '@libsql/client';
import { sql } from 'drizzle-orm';
import { constants, existsSync } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import type { BackupView } from '@jasmorphe/contracts/kitViews';
import { localDay } from '@jasmorphe/core/planning/days/instants';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import type { KeptFile } from '../store/Arrivals.ts';
import { BlobStore, hashOfFile, type KeptKind } from '../store/BlobStore.ts';
import { clientOf } from '../store/clientOf.ts';
import { needsOf, type Needs } from '../store/collect.ts';
import { brokenTexts, wrongIn } from '../store/damagedDatabase.ts';
import { openDatabase, type Database, type Reading } from '../store/database.ts';
import { withCopy } from '../store/readFolder.ts';
import { meshes, models, projects } from '../store/schema.ts';
import { schemaAgeOf } from '../store/schemaAge.ts';
import { troubleOf } from '../store/troubles.ts';
import { branched, namedLineage, type Lineage } from './lineage.ts';

const format = 'jasmorphe-backup';
/** Of what a backup says of itself, and of how its files lie. */
const backupVersion = 1;
/** The database of a backup that is being made. */
const unfinished = 'jasmorphe.db.new';
/** Files that SQLite keeps beside a database. */
const besides = ['-wal', '-shm'];
const kinds: KeptKind[] = ['meshes', 'sources'];

const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');

/** What a backup says of itself. */
interface About {
  format: string;
  version?: number;
  madeAt?: string;
  /** whose it is; those of an earlier version do not say */
  of?: string;
  /** the hash of its database; those of an earlier version do not say */
  database?: string;
  /** files that were missing or damaged already when it was made: KIND/HASH */
  without?: string[];
}

/**
 * A backup says first what its database is, and then gives it its name: where that was cut off, it is done now.
 *
 * @returns whether the database is what the backup says it is; true as well where it does not say
 */
async function hasItsDatabase(folder: string, { database }: About): Promise<boolean> {
  if (database === undefined || (await isWhole(join(folder, 'jasmorphe.db'), database))) return true;
  if (!(await isWhole(join(folder, unfinished), database))) return false;
  await rename(join(folder, unfinished), join(folder, 'jasmorphe.db'));
  return true;
}

const aboutOf = (folder: string): Promise<About | null> =>
  readFile(join(folder, 'backup.json'), 'utf8').then(
    (text) => JSON.parse(text) as About,
    () => null,
  );

/** The first folder of that name with a number behind it that holds nothing yet. */
async function freeBeside(folder: string): Promise<string> {
  for (let n = 2; ; n++) {
    const other = `${folder}-${n}`;
    if ((await readdir(other).catch(() => [])).length === 0) return other;
  }
}

/** Asks a copy of the database of a backup; that answer where it cannot be read. */
const askedOf = <T>(folder: string, ask: (client: Client) => Promise<T>, otherwise: T): Promise<T> =>
  withCopy(join(folder, 'jasmorphe.db'), false, async (copy) => {
    const client = clientOf(copy);
    return ask(client).finally(() => client.close());
  }).catch(() => otherwise);

/** Is a backup of an earlier version, which does not say whose it is, of these data? Where they have a project in common, or it has none. */
const sharesProject = (folder: string, db: Reading): Promise<boolean> =>
  askedOf(
    folder,
    async (client) => {
      // by their bytes: it may be damaged
      const { rows } = await client.execute('SELECT hex(id) FROM projects');
      const own = new Set((await db.select({ id: sql<string>`hex(${projects.id})` }).from(projects)).map((p) => p.id));
      return rows.length === 0 || rows.some((r) => own.has(textOf(r[0])));
    },
    // nobody can say: it is not taken for ours
    false,
  );

/** Is the database of a backup one that a later version wrote? */
const holdsNewer = (folder: string): Promise<boolean> =>
  askedOf(
    folder,
    async (client) => (await brokenTexts(client))?.length === 0 && (await schemaAgeOf(client)) === 'newer',
    false,
  );

/** @throws MeshError where a folder holds something that is no backup, the backup of other data, or one of a later version */
async function mayHold(folder: string, { id, before }: Lineage, db: Reading): Promise<void> {
  const names = await readdir(folder).catch(() => [] as string[]);
  // a first backup that was cut off left its database under the name that it has until the end
  if (names.length === 0 || (names.includes(unfinished) && !names.includes('backup.json'))) return;
  const about = await aboutOf(folder);
  if (!names.includes('backup.json'))
    throw new MeshError(
      'folder-taken',
      `${folder} holds something else already.`,
      'Name an empty folder, a new one, or one of an earlier backup.',
    );
  if (about) mustNotBeNewer(folder, about);
  if (await holdsNewer(folder)) throw newerBackup(folder);
  const ours = about?.of ? about.of === id || before.includes(about.of) : await sharesProject(folder, db);
  if (!ours)
    throw new MeshError(
      'folder-taken',
      `${folder} holds the backup of another data folder${about?.madeAt ? `, of ${localDay(Date.parse(about.madeAt))}` : ''}.`,
      `It stays as it is. Name another, such as ${await freeBeside(folder)}.`,
      'folder',
    );
}

const counts = async (db: Reading) => ({
  projects: (await db.select({ id: projects.id }).from(projects)).length,
  models: (await db.select({ id: models.id }).from(models)).length,
  meshes: (await db.select({ hash: meshes.hash }).from(meshes)).length,
});

/**
 * Saves a data folder into another, while it is in use: the database as it is at one instant (SQLite's `VACUUM INTO`, which
 * reads in one transaction beside whoever writes), and every file that it knows of. A folder of an earlier backup is
 * brought up to date; it is the earlier one until the last moment.
 *
 * @throws MeshError `folder-taken`, `bad-params`
 */
export async function backUp(
  database: Database,
  blobs: BlobStore,
  to: string,
  progress: (fraction: number) => void = () => undefined,
): Promise<BackupView> {
  try {
    return await saveInto(database, blobs, to, progress);
  } catch (error) {
    // what the disk of the backup will not take is no trouble of the data folder
    const code = (error as NodeJS.ErrnoException).code ?? '';
    if (!/^E(ACCES|PERM|EXIST|ROFS|NOSPC|DQUOT|NOTDIR|ISDIR|NAMETOOLONG|INVAL|NOENT|IO)$/.test(code)) throw error;
    throw new MeshError(
      'cannot',
      `${resolve(to)} cannot be written (${code}).`,
      'Name another folder, or make room there.',
    );
  }
}

async function saveInto(
  database: Database,
  blobs: BlobStore,
  to: string,
  progress: (fraction: number) => void,
): Promise<BackupView> {
  const folder = resolve(to);
  const root = resolve(blobs.root);
  if (folder === root || root.startsWith(`${folder}/`))
    throw new MeshError('bad-params', 'The data folder cannot be saved into itself.', 'Name another folder.', 'folder');
  const lineage = await namedLineage(database);
  await mayHold(folder, lineage, database.db);
  await mkdir(folder, { recursive: true });
  const earlier = await aboutOf(folder);
  if (earlier) await hasItsDatabase(folder, earlier);
  const fresh = join(folder, unfinished);
  for (const end of ['', ...besides]) await rm(fresh + end, { force: true });
  await database.client.execute({ sql: 'VACUUM INTO ?', args: [fresh] });
  const copy = await openDatabase(fresh, 'copy');
  let counted: Awaited<ReturnType<typeof counts>>;
  let needed: Needs;
  try {
    counted = await counts(copy.db);
    needed = await needsOf(copy.db);
  } finally {
    await copy.close();
  }
  const files = filesIn(needed);
  const done = { bytes: 0, copied: 0, mended: 0 };
  const without: string[] = [];
  for (const [i, file] of files.entries()) {
    progress(i / Math.max(1, files.length));
    const how = await saveFile(file, folder, blobs);
    if (how === 'missing') {
      without.push(`${file.kind}/${file.name}`);
      continue;
    }
    done.bytes += (await stat(pathIn(folder, file))).size;
    if (how === 'copied') done.copied++;
    if (how === 'mended') done.mended++;
  }
  const madeAt = new Date().toISOString();
  const report: BackupView = { folder, madeAt, ...counted, ...done, damaged: without.length };
  const about = {
    format,
    version: backupVersion,
    of: lineage.id,
    database: await hashOfFile(fresh),
    ...report,
    without,
  };
  await writeFile(join(folder, 'backup.json.part'), JSON.stringify(about, null, 2));
  await rename(join(folder, 'backup.json.part'), join(folder, 'backup.json'));
  await rename(fresh, join(folder, 'jasmorphe.db'));
  // its write-ahead file was emptied into it when it was closed
  for (const end of besides) await rm(fresh + end, { force: true });
  progress(1);
  return report;
}

const filesIn = (needed: Needs): KeptFile[] =>
  kinds.flatMap((kind) =>
    [...needed[kind]].filter((name) => /^[0-9a-f]{64}$/.test(name)).map((name) => ({ kind, name })),
  );

/** Where a backup holds a file. */
const pathIn = (folder: string, { kind, name }: KeptFile): string => join(folder, kind, name.slice(0, 2), name);

/** Does a file hold what its name says? */
const isWhole = (path: string, name: string): Promise<boolean> =>
  hashOfFile(path).then(
    (hash) => hash === name,
    () => false,
  );

/** Copies a file under a temporary name first, and looks whether what arrived is what its name says. False, and nothing there, where it is not. */
async function copyWhole(from: string, to: string, name: string): Promise<boolean> {
  const part = `${to}.part`;
  await mkdir(dirname(to), { recursive: true });
  try {
    await copyFile(from, part, constants.COPYFILE_FICLONE);
    if (!(await isWhole(part, name))) return false;
    await rename(part, to);
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return false;
    throw error;
  } finally {
    await rm(part, { force: true });
  }
}

/** Takes a file of a backup into a data folder, if it is whole there. */
export async function bringFile(folder: string, file: KeptFile, blobs: BlobStore): Promise<boolean> {
  const temporary = blobs.incomingPath();
  if (!(await copyWhole(pathIn(folder, file), temporary, file.name))) return false;
  await blobs.adopt(file.kind, file.name, temporary);
  return true;
}

/**
 * Sees to it that a backup holds a file, whole; a copy that was there is read through as well. What is damaged or missing in
 * the data folder comes back from the backup where that has it.
 */
async function saveFile(
  file: KeptFile,
  folder: string,
  blobs: BlobStore,
): Promise<'there' | 'copied' | 'mended' | 'missing'> {
  const { kind, name } = file;
  const to = pathIn(folder, file);
  const inTrash = !(await blobs.has(kind, name));
  const from = inTrash ? blobs.trashPath(kind, name) : blobs.path(kind, name);
  const sound = inTrash ? await isWhole(from, name) : await blobs.isSound(kind, name);
  if (await isWhole(to, name)) return sound ? 'there' : (await bringFile(folder, file, blobs)) ? 'mended' : 'there';
  return sound && (await copyWhole(from, to, name)) ? 'copied' : 'missing';
}

/** @throws MeshError `backup-newer` where a later version made a backup, by what it says of itself */
function mustNotBeNewer(folder: string, { version = backupVersion }: About): void {
  if (version !== backupVersion) throw newerBackup(folder);
}

const newerBackup = (folder: string): MeshError =>
  new MeshError(
    'backup-newer',
    `The backup in ${folder} was made by a later version of this program.`,
    'Nothing was changed. Use that version, or name another folder.',
    'folder',
  );

/** What a backup says of itself. @throws MeshError `no-backup`, `backup-newer` */
export async function mustBeBackup(folder: string): Promise<About> {
  const about = await aboutOf(folder).catch(() => null);
  const databases = about?.database === undefined ? ['jasmorphe.db'] : ['jasmorphe.db', unfinished];
  if (about?.format !== format || !databases.some((name) => existsSync(join(folder, name))))
    throw new MeshError('no-backup', `${folder} holds no backup.`, 'Name the folder that a backup was made into.');
  mustNotBeNewer(folder, about);
  return about;
}

/**
 * Opens a backup: a copy of its database beside `work`, brought to our version.
 *
 * @throws MeshError `no-backup`, `backup-newer`, `backup-damaged`
 */
async function openBackup(
  from: string,
  work: string,
): Promise<{ folder: string; needed: Needs; without: ReadonlySet<string> }> {
  const folder = resolve(from);
  const about = await mustBeBackup(folder);
  if (!(await hasItsDatabase(folder, about))) throw damagedBackup('its database is not what was saved');
  await rm(work, { force: true });
  await copyFile(join(folder, 'jasmorphe.db'), work);
  let copy: Database;
  try {
    // before anything is read of it that might not be there
    const client = clientOf(work);
    const wrong = await wrongIn(client).finally(() => client.close());
    if (wrong !== null) throw damagedBackup('its database is torn');
    copy = await openDatabase(work, 'copy');
  } catch (error) {
    if (isMeshError(error)) throw error;
    if (troubleOf(error)?.code === 'database-newer') throw newerBackup(folder);
    throw damagedBackup('its database cannot be read');
  }
  try {
    return { folder, needed: await needsOf(copy.db), without: new Set(about.without) };
  } finally {
    await copy.close();
  }
}

const damagedBackup = (why: string, hint = 'Nothing was changed. Take another one.', field?: string): MeshError =>
  new MeshError('backup-damaged', `The backup is damaged: ${why}.`, hint, field);

/**
 * Takes the files of a backup into a data folder. Those that are there and whole stay; each is held to its name on the way.
 *
 * @param anyway goes on without those that are missing from the backup or damaged there
 * @returns how many there are not, in the backup or here
 * @throws MeshError `backup-damaged`
 */
async function bringFiles(
  { folder, needed, without }: Awaited<ReturnType<typeof openBackup>>,
  blobs: BlobStore,
  anyway: boolean,
): Promise<number> {
  let lost = 0;
  const wrong: string[] = [];
  for (const file of filesIn(needed)) {
    if ((await blobs.isSound(file.kind, file.name)) || (await bringFile(folder, file, blobs))) continue;
    lost++;
    const named = `${file.kind}/${file.name}`;
    // a backup says itself what it could not save
    if (!without.has(named)) wrong.push(named.slice(0, file.kind.length + 13));
  }
  if (wrong.length > 0 && !anyway)
    throw damagedBackup(
      `${wrong.length} ${wrong.length === 1 ? 'file of it is' : 'files of it are'} missing or not what the name says: ${wrong.slice(0, 3).join(', ')}`,
      'Nothing was changed. Take another one, or restore without them: their steps are worked out anew where that can be.',
      'anyway',
    );
  return lost;
}

/** Copies of what was there before a restore that are kept, the newest. */
const copiesKept = 3;

/** Removes older copies of what was there before a restore. */
async function thinCopies(root: string): Promise<void> {
  const copies = (await readdir(root)).filter((f) => /^before-restore-.*\.db$/.test(f)).sort();
  for (const old of copies.slice(0, -copiesKept)) await rm(join(root, old), { force: true });
}

/**
 * Puts the backup in the place of all that is there, while it is in use. What was there is saved beside the database
 * first; of such copies the newest are kept. Jobs must have ended, and nothing may be written meanwhile.
 *
 * @returns where what was there is saved, and how many files are missing by now
 */
export async function restoreInto(
  database: Database,
  blobs: BlobStore,
  from: string,
  anyway = false,
): Promise<{ before: string; lost: number }> {
  const work = join(blobs.root, 'restoring.db');
  try {
    const backup = await openBackup(from, work);
    const lost = await bringFiles(backup, blobs, anyway);
    const before = join(blobs.root, `before-restore-${new Date().toISOString().replace(/[:.]/g, '-')}.db`);
    await database.client.execute({ sql: 'VACUUM INTO ?', args: [before] });
    await replaceRows(database.file, work);
    await branched(database);
    await thinCopies(blobs.root);
    return { before, lost };
  } finally {
    for (const end of ['', ...besides]) await rm(work + end, { force: true });
  }
}

/** Puts the rows of one database in the place of another's, in one transaction. */
async function replaceRows(file: string, other: string): Promise<void> {
  const client = clientOf(file);
  const quoted = (name: string) => `"${name.replace(/"/g, '""')}"`;
  try {
    await client.execute('PRAGMA busy_timeout = 5000');
    await client.execute('PRAGMA foreign_keys = OFF');
    await client.execute({ sql: 'ATTACH DATABASE ? AS other', args: [other] });
    const { rows } = await client.execute(
      `SELECT name FROM main.sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE '\\_\\_%' ESCAPE '\\'`,
    );
    const statements: string[] = ['BEGIN IMMEDIATE'];
    for (const row of rows) {
      const table = quoted(textOf(row[0]));
      const columns = await client.execute(`SELECT name FROM pragma_table_info('${textOf(row[0])}')`);
      const names = columns.rows.map((c) => quoted(textOf(c[0]))).join(', ');
      statements.push(
        `DELETE FROM main.${table}`,
        `INSERT INTO main.${table} (${names}) SELECT ${names} FROM other.${table}`,
      );
    }
    statements.push('COMMIT');
    await client.executeMultiple(statements.join(';\n'));
  } catch (error) {
    await client.execute('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    client.close();
  }
}

/** Puts a backup into a folder that nobody works in and that holds no data yet. @returns how many files are missing */
export async function restoreTo(folder: string, from: string, anyway = false): Promise<number> {
  if (existsSync(join(folder, 'jasmorphe.db')))
    throw new MeshError(
      'folder-taken',
      `${folder} holds data already.`,
      'Name an empty folder; or restore on the page of a running server, which saves what is there first.',
    );
  await mkdir(folder, { recursive: true });
  const blobs = new BlobStore(folder);
  const work = join(folder, 'restoring.db');
  try {
    const lost = await bringFiles(await openBackup(from, work), blobs, anyway);
    const database = await openDatabase(work, 'copy');
    try {
      await branched(database);
    } finally {
      await database.close();
    }
    await rename(work, join(folder, 'jasmorphe.db'));
    return lost;
  } finally {
    for (const end of ['', ...besides]) await rm(work + end, { force: true });
  }
}

/** What a data folder holds, in numbers. */
export async function countOfFolder(folder: string) {
  const database = await openDatabase(join(folder, 'jasmorphe.db'));
  try {
    const rows = await database.db.select({ bytes: meshes.bytes }).from(meshes);
    return { ...(await counts(database.db)), bytes: rows.reduce((n, r) => n + r.bytes, 0) };
  } finally {
    await database.close();
  }
}
