import type { Client } from '@libsql/client';
import { eq } from 'drizzle-orm';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Problem } from '@jasmorphe/contracts/views';
import { bringFile, mustBeBackup } from './backup.ts';
import { BlobStore, type KeptKind } from '../store/BlobStore.ts';
import { clientOf } from '../store/clientOf.ts';
import { needsOf } from '../store/collect.ts';
import { openDatabase, type Database, type Reading } from '../store/database.ts';
import { brokenTexts, mendTexts, wordsOf, wrongIn } from '../store/damagedDatabase.ts';
import { lockFolder } from '../store/folderLock.ts';
import { readFolder } from '../store/readFolder.ts';
import { jobs, lineStates, models, parts, steps } from '../store/schema.ts';
import { StoreError, troubleOf } from '../store/troubles.ts';

const kinds: KeptKind[] = ['meshes', 'sources'];
const few = (names: string[]): string =>
  names.slice(0, 3).join(', ') + (names.length > 3 ? ` and ${names.length - 3} more` : '');

const restoreIt = 'Copy the data folder, then restore jasmorphe.db from a backup.';

/** Is the database whole? Its indexes, which hold nothing of their own, are made anew with `mend` where they are not. */
async function tornDatabase(client: Client, mend: boolean): Promise<Problem[]> {
  const wrong = await wrongIn(client);
  if (wrong === null) return [];
  let mended = false;
  if (mend)
    try {
      await client.execute('REINDEX');
      mended = (await wrongIn(client)) === null;
    } catch (error) {
      if (troubleOf(error)?.code !== 'database-damaged') throw error;
    }
  const hint = mended ? 'Its indexes were made anew from its rows.' : restoreIt;
  return [{ code: 'database-damaged', message: `The database is damaged: ${wrong}.`, hint, mended }];
}

/**
 * What can be seen of a data folder without reading its files: whether the database is whole and all files are there.
 *
 * @param from a backup, from which missing ones are fetched
 * @param mend makes the indexes of the database anew where they are torn
 */
export async function quickLook(
  { client, db }: Database,
  blobs: BlobStore,
  from: string | null = null,
  mend = true,
): Promise<Problem[]> {
  const problems = await tornDatabase(client, mend);
  const needed = await needsOf(db);
  let files = 0;
  for (const kind of kinds) {
    const there = new Set<string>();
    for await (const { name } of blobs.list(kind)) {
      files++;
      there.add(name);
    }
    const missing: string[] = [];
    let back = 0;
    for (const name of needed[kind]) {
      if (!/^[0-9a-f]{64}$/.test(name) || there.has(name)) continue;
      if (await blobs.ensure(kind, name)) continue;
      missing.push(name.slice(0, 12));
      if (from !== null && (await bringFile(from, { kind, name }, blobs))) back++;
    }
    if (missing.length > 0)
      problems.push({
        code: 'file-missing',
        message: `${missing.length} ${missing.length === 1 ? 'file is' : 'files are'} missing from ${kind}/: ${few(missing)}.`,
        hint:
          from !== null
            ? `${back} of them came back from the backup.`
            : kind === 'meshes'
              ? 'Fetch them from a backup with --mend --from FOLDER; else they are worked out anew when they are asked for.'
              : 'Fetch them from a backup with --mend --from FOLDER; what was made of them is still there.',
        mended: back === missing.length,
      });
  }
  if (needed.blank && files > 0)
    problems.push({
      code: 'unknown-files',
      message: `The database knows of nothing, and ${files} files of models lie beside it.`,
      hint: 'Was jasmorphe.db lost or left behind? Stop the server and copy it back from a backup. Nothing is removed meanwhile.',
      mended: false,
    });
  return problems;
}

/**
 * Texts of the database that are none. With `mend` the sign of what cannot be read takes the place of each of their broken bytes.
 */
async function brokenIn(file: string, mend: boolean): Promise<Problem[]> {
  const client = clientOf(file);
  try {
    const broken = await brokenTexts(client);
    if (broken?.length === 0) return [];
    if (broken !== null && mend) {
      // an index still holds what the text was, and nothing can be changed that is not in it
      await client.execute('REINDEX');
      await mendTexts(client, broken);
    }
    return [
      {
        code: 'database-damaged',
        message: `The database is damaged: ${wordsOf(broken)}.`,
        hint:
          broken === null
            ? restoreIt
            : mend
              ? 'A sign stands in the place of what cannot be read. A backup of before may have it.'
              : `${restoreIt} Or with --mend have a sign put in the place of what cannot be read.`,
        mended: broken !== null && mend,
      },
    ];
  } finally {
    client.close();
  }
}

/** Rows that point to nothing. */
async function looseRows(db: Reading): Promise<Problem[]> {
  const problems: Problem[] = [];
  const known = new Set((await db.select({ id: steps.id }).from(steps)).map((s) => s.id));
  const bodies = new Map<string, string>();
  for (const m of await db.select({ id: models.id, name: models.name }).from(models)) bodies.set(m.id, m.name);
  for (const p of await db.select({ id: parts.id, tag: parts.tag }).from(parts)) bodies.set(p.id, `part ${p.tag}`);
  const torn = new Set<string>();
  for (const s of await db.select().from(lineStates))
    if (bodies.has(s.bodyId) && s.stepIds.some((id) => !known.has(id))) torn.add(bodies.get(s.bodyId)!);
  if (torn.size > 0)
    problems.push({
      code: 'line-torn',
      message: `Steps are missing from the line of ${few([...torn])}.`,
      hint: 'Import the file again: its source is kept in sources/.',
      mended: false,
    });
  return problems;
}

/** Files whose content is not what their name says. With `mend` they are put aside, so that their steps are worked out anew. */
async function damagedFiles(blobs: BlobStore, mend: boolean, from: string | null): Promise<Problem[]> {
  const problems: Problem[] = [];
  for (const kind of kinds) {
    const damaged: string[] = [];
    let back = 0;
    for await (const { name } of blobs.list(kind)) {
      try {
        await blobs.verify(kind, name);
      } catch (error) {
        if (troubleOf(error)?.code !== 'file-damaged') throw error;
        damaged.push(name.slice(0, 12));
        if (!mend) continue;
        await blobs.putAside(kind, name);
        if (from !== null && (await bringFile(from, { kind, name }, blobs))) back++;
      }
    }
    if (damaged.length > 0)
      problems.push({
        code: 'file-damaged',
        message: `${damaged.length} ${damaged.length === 1 ? 'file' : 'files'} in ${kind}/ changed since written: ${few(damaged)}.`,
        hint: mend
          ? `Put aside in trash/damaged/. ${fetched(back, damaged.length)}`
          : 'Fetch them from a backup with --mend --from FOLDER; or with --mend alone put them aside, so that their steps are worked out anew.',
        mended: mend,
      });
  }
  return problems;
}

const fetched = (back: number, all: number): string =>
  back === all
    ? 'All came back from the backup.'
    : `${back > 0 ? `${back} came back from the backup; the others` : 'They'} are worked out anew when they are asked for, as far as their files are there.`;

/**
 * Looks a data folder over: the database, that every file is there and holds what its name says, that lines are whole,
 * and that no job is marked as running by nobody. Mends only while no server works in the folder; without that, changes nothing.
 *
 * @param from a backup, from which files are fetched that are missing or damaged
 * @throws MeshError `no-backup` where that is none
 */
export async function examine(folder: string, mend: boolean, from: string | null = null): Promise<Problem[]> {
  if (from !== null) await mustBeBackup(from);
  const file = join(folder, 'jasmorphe.db');
  if (!existsSync(file))
    return [
      {
        code: 'no-database',
        message: `There is no jasmorphe.db in ${folder}.`,
        hint: 'Is it the right folder? If its database was lost, copy it back from a backup.',
        mended: false,
      },
    ];
  try {
    if (!mend)
      return await readFolder(folder, ({ file: copy, blobs, inUse }) =>
        lookOver(copy, blobs, { mend, inUse, from: null }),
      );
    const lock = await lockFolder(folder);
    try {
      return await lookOver(file, new BlobStore(folder), { mend, inUse: false, from });
    } finally {
      await lock.release();
    }
  } catch (error) {
    const trouble = troubleOf(error);
    if (mend && trouble?.code === 'read-only') throw new StoreError('read-only', folder);
    if (!trouble) throw error;
    // what it says of a database that cannot be opened leads here, where nothing more can be done
    const hint = trouble.code === 'database-damaged' ? restoreIt : trouble.hint;
    return [{ ...trouble, hint, mended: false }];
  }
}

/** @param inUse by a server, whose jobs are at work then */
async function lookOver(
  file: string,
  blobs: BlobStore,
  { mend, inUse, from }: { mend: boolean; inUse: boolean; from: string | null },
): Promise<Problem[]> {
  const broken = await brokenIn(file, mend);
  if (broken.some((p) => !p.mended)) return broken;
  const database = await openDatabase(file, mend ? 'keep' : 'copy');
  const { db } = database;
  try {
    const problems = [...broken, ...(await quickLook(database, blobs, from, mend))];
    if (!problems.some((p) => p.code === 'database-damaged' && !p.mended)) problems.push(...(await looseRows(db)));
    problems.push(...(await damagedFiles(blobs, mend, from)));
    if (inUse) return problems;
    const left = await db.select({ id: jobs.id }).from(jobs).where(eq(jobs.state, 'running'));
    if (left.length > 0) {
      if (mend) await database.write([db.update(jobs).set({ state: 'queued' }).where(eq(jobs.state, 'running'))]);
      problems.push({
        code: 'job-cut-off',
        message: `${left.length} ${left.length === 1 ? 'job was' : 'jobs were'} at work when the server ended.`,
        hint: mend ? 'Put back into the queue.' : 'The next start takes them up again.',
        mended: mend,
      });
    }
    return problems;
  } finally {
    await database.close();
  }
}

/** Deletes for good what is in the trash of a data folder. Returns how many files went. */
export async function emptyTrash(folder: string): Promise<number> {
  const lock = await lockFolder(folder);
  try {
    const blobs = new BlobStore(folder);
    return (await blobs.emptyTrash('meshes', 0)) + (await blobs.emptyTrash('sources', 0));
  } finally {
    await lock.release();
  }
}
