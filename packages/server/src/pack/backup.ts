import { constants, existsSync } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import type { BackupView } from '@jasmorphe/contracts/kitViews';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { BlobStore, type KeptKind } from '../store/BlobStore.ts';
import { clientOf } from '../store/clientOf.ts';
import { needsOf, type Needs } from '../store/collect.ts';
import { openDatabase, type Database, type Reading } from '../store/database.ts';
import { meshes, models, projects } from '../store/schema.ts';

const format = 'jasmorphe-backup';
/** The database of a backup that is being made. */
const unfinished = 'jasmorphe.db.new';
/** Files that SQLite keeps beside a database. */
const besides = ['-wal', '-shm'];
const kinds: KeptKind[] = ['meshes', 'sources'];

const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');

const exists = async (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

/** @throws MeshError where a folder holds something that is no backup */
async function mayHold(folder: string): Promise<void> {
  const names = await readdir(folder).catch(() => [] as string[]);
  // a first backup that was cut off left its database under the name that it has until the end
  if (names.length === 0 || names.includes('backup.json') || names.includes(unfinished)) return;
  throw new MeshError(
    'folder-taken',
    `${folder} holds something else already.`,
    'Name an empty folder, a new one, or one of an earlier backup.',
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
  await mayHold(folder);
  await mkdir(folder, { recursive: true });
  const fresh = join(folder, unfinished);
  for (const end of ['', ...besides]) await rm(fresh + end, { force: true });
  await database.client.execute({ sql: 'VACUUM INTO ?', args: [fresh] });
  const copy = await openDatabase(fresh);
  let counted: Awaited<ReturnType<typeof counts>>;
  let needed: Needs;
  try {
    counted = await counts(copy.db);
    needed = await needsOf(copy.db);
  } finally {
    await copy.close();
  }
  let bytes = 0;
  let copied = 0;
  let done = 0;
  const total = needed.meshes.size + needed.sources.size;
  for (const kind of kinds)
    for (const name of needed[kind]) {
      progress(done++ / Math.max(1, total));
      if (!/^[0-9a-f]{64}$/.test(name)) continue;
      const target = join(folder, kind, name.slice(0, 2), name);
      const from = (await exists(blobs.path(kind, name))) ? blobs.path(kind, name) : blobs.trashPath(kind, name);
      const found = await stat(from).catch(() => null);
      // what is missing here, the doctor tells of
      if (!found) continue;
      bytes += found.size;
      const there = await stat(target).catch(() => null);
      if (there?.size === found.size) continue;
      await mkdir(dirname(target), { recursive: true });
      await copyFile(from, `${target}.part`, constants.COPYFILE_FICLONE);
      await rename(`${target}.part`, target);
      copied++;
    }
  const madeAt = new Date().toISOString();
  const report: BackupView = { folder, madeAt, ...counted, bytes, copied };
  await writeFile(join(folder, 'backup.json.part'), JSON.stringify({ format, version: 1, ...report }, null, 2));
  await rename(join(folder, 'backup.json.part'), join(folder, 'backup.json'));
  await rename(fresh, join(folder, 'jasmorphe.db'));
  // its write-ahead file was emptied into it when it was closed
  for (const end of besides) await rm(fresh + end, { force: true });
  progress(1);
  return report;
}

/**
 * Looks at a backup: a copy of its database beside `work`, brought to our version, and whether its files are there.
 *
 * @throws MeshError `no-backup`, `backup-damaged`
 */
async function openBackup(from: string, work: string): Promise<{ folder: string; needed: Needs }> {
  const folder = resolve(from);
  const about = await readFile(join(folder, 'backup.json'), 'utf8')
    .then((text) => JSON.parse(text) as { format?: string } | null)
    .catch(() => null);
  if (about?.format !== format || !existsSync(join(folder, 'jasmorphe.db')))
    throw new MeshError('no-backup', `${folder} holds no backup.`, 'Name the folder that a backup was made into.');
  await rm(work, { force: true });
  await copyFile(join(folder, 'jasmorphe.db'), work);
  const damagedBackup = (why: string) =>
    new MeshError('backup-damaged', `The backup is damaged: ${why}.`, 'Nothing was changed. Take another one.');
  let copy: Database;
  try {
    copy = await openDatabase(work);
  } catch {
    throw damagedBackup('its database cannot be read');
  }
  try {
    const { rows } = await copy.client.execute('PRAGMA quick_check(1)');
    if (textOf(rows[0]?.[0]) !== 'ok') throw damagedBackup('its database is torn');
    const needed = await needsOf(copy.db);
    for (const kind of kinds)
      for (const name of needed[kind]) {
        if (!/^[0-9a-f]{64}$/.test(name)) continue;
        const other = kind === 'meshes' ? 'sources' : 'meshes';
        const at = (k: KeptKind) => join(folder, k, name.slice(0, 2), name);
        // hashes in a waiting job may be of either kind
        if (!(await exists(at(kind))) && !(await exists(at(other))))
          throw damagedBackup(`the file ${name.slice(0, 12)} is missing from ${kind}`);
      }
    return { folder, needed };
  } finally {
    await copy.close();
  }
}

/** Copies the files of a backup into a data folder; those that are there stay. */
async function bringFiles(folder: string, needed: Needs, blobs: BlobStore): Promise<void> {
  for (const kind of kinds)
    for (const name of needed[kind]) {
      if (!/^[0-9a-f]{64}$/.test(name)) continue;
      const from = join(folder, kind, name.slice(0, 2), name);
      if (!(await exists(from)) || (await blobs.ensure(kind, name))) continue;
      const temporary = blobs.incomingPath();
      await copyFile(from, temporary, constants.COPYFILE_FICLONE);
      await blobs.adopt(kind, name, temporary);
    }
}

/**
 * Puts the backup in the place of all that is there, while it is in use. What was there is saved beside the database
 * first. Jobs must have ended, and nothing may be written meanwhile.
 *
 * @returns where what was there is saved
 */
export async function restoreInto(database: Database, blobs: BlobStore, from: string): Promise<string> {
  const work = join(blobs.root, 'restoring.db');
  try {
    const { folder, needed } = await openBackup(from, work);
    await bringFiles(folder, needed, blobs);
    const before = join(blobs.root, `before-restore-${new Date().toISOString().replace(/[:.]/g, '-')}.db`);
    await database.client.execute({ sql: 'VACUUM INTO ?', args: [before] });
    await replaceRows(database.file, work);
    return before;
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

/** Puts a backup into a folder that nobody works in and that holds no data yet. */
export async function restoreTo(folder: string, from: string): Promise<void> {
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
    const { folder: source, needed } = await openBackup(from, work);
    await bringFiles(source, needed, blobs);
    await rename(work, join(folder, 'jasmorphe.db'));
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
