import { inArray, sql } from 'drizzle-orm';
import type { BlobStore } from './BlobStore.ts';
import { isOneOf } from './named.ts';
import type { Reading, Statement } from './database.ts';
import { neededBy } from './payloads.ts';
import {
  attachments,
  bedfuls,
  jobs,
  lineStates,
  logEntries,
  meshes,
  models,
  parts,
  references,
  steps,
} from './schema.ts';
import { sourceOf } from './sourceOf.ts';

/** Steps that no line took (previews) are kept so long, ms. */
const previewsKeptMs = 7 * 86_400_000;
/** Files written within the last hour may belong to a job or an upload that is not in the tables yet, ms. */
const youngMs = 3_600_000;
/** Meshes stay in the trash for so many days; sources until the maker empties it. */
export const trashDays = 30;

/** What the tables refer to. */
export interface Needs {
  meshes: Set<string>;
  sources: Set<string>;
  deadSteps: string[];
  /** the tables hold no mesh at all: beside files that exist that is a question, not an order */
  blank: boolean;
}

/** Reads from all tables which meshes and sources are needed, and which steps no line can come back to. */
export async function needsOf(db: Reading, keptMs = previewsKeptMs): Promise<Needs> {
  const live = new Set((await db.select({ ids: lineStates.stepIds }).from(lineStates)).flatMap((s) => s.ids));
  for (const p of await db.select({ id: parts.stepId }).from(parts)) live.add(p.id);
  const needed: Needs = { meshes: new Set(), sources: new Set(), deadSteps: [], blank: false };
  const fresh = new Date(Date.now() - keptMs).toISOString();
  const all = await db
    .select({ id: steps.id, outputs: steps.outputs, inputs: steps.inputs, createdAt: steps.createdAt })
    .from(steps);
  for (const s of all) {
    if (!live.has(s.id) && s.createdAt < fresh) {
      needed.deadSteps.push(s.id);
      continue;
    }
    s.outputs.forEach((h) => needed.meshes.add(h));
    s.inputs.forEach((h) => {
      const source = sourceOf(h);
      if (source) needed.sources.add(source);
      else needed.meshes.add(h);
    });
  }
  for (const r of await db.select({ hash: references.meshHash }).from(references)) needed.meshes.add(r.hash);
  for (const p of await db.select({ hash: parts.meshHash }).from(parts)) needed.meshes.add(p.hash);
  for (const e of await db.select({ hash: logEntries.meshHash }).from(logEntries)) needed.meshes.add(e.hash);
  for (const b of await db.select({ parts: bedfuls.parts }).from(bedfuls))
    for (const p of b.parts) needed.meshes.add(p.mesh);
  for (const m of await db.select({ hash: models.sourceHash }).from(models)) needed.sources.add(m.hash);
  for (const a of await db.select({ hash: attachments.hash }).from(attachments)) if (a.hash) needed.sources.add(a.hash);
  for (const { kind, payload } of await db
    .select({ kind: jobs.kind, payload: jobs.payload })
    .from(jobs)
    .where(inArray(jobs.state, ['queued', 'running']))) {
    const own = neededBy(kind, payload);
    own.meshes?.forEach((h) => needed.meshes.add(h));
    own.sources?.forEach((h) => needed.sources.add(h));
  }
  const [{ n }] = await db.select({ n: sql<number>`count(*)` }).from(meshes);
  needed.blank = n === 0;
  return needed;
}

export interface Collected {
  /** files moved to the trash */
  moved: number;
  /** files that nothing knows of and that were left, because the tables know of no mesh at all */
  unknown: number;
}

/**
 * Moves meshes and sources that nothing can come back to into the trash, and forgets their rows. Call it where nothing
 * can commit meanwhile (`Library.collect`).
 */
export async function collectUnneeded(
  db: Reading,
  write: (statements: readonly Statement[]) => Promise<void>,
  blobs: BlobStore,
  youngerMs = youngMs,
): Promise<Collected> {
  const needed = await needsOf(db);
  const old = Date.now() - youngerMs;
  const found: { kind: 'meshes' | 'sources'; name: string }[] = [];
  let files = 0;
  for (const kind of ['meshes', 'sources'] as const)
    for await (const { name, writtenMs } of blobs.list(kind)) {
      files++;
      if (!needed[kind].has(name) && writtenMs < old) found.push({ kind, name });
    }
  if (needed.blank) return { moved: 0, unknown: files };
  // rows go first: a step whose mesh is gone would only be worked out again, a row without its file is a puzzle
  const gone = found.filter((f) => f.kind === 'meshes').map((f) => f.name);
  const removals: Statement[] = [];
  if (needed.deadSteps.length > 0) removals.push(db.delete(steps).where(isOneOf(steps.id, needed.deadSteps)));
  if (gone.length > 0) removals.push(db.delete(meshes).where(isOneOf(meshes.hash, gone)));
  await write(removals);
  for (const { kind, name } of found) await blobs.discard(kind, name);
  for await (const { name, writtenMs } of blobs.list('display'))
    if (writtenMs < old && !needed.meshes.has(name.split('-')[0])) await blobs.removeDisplay(name);
  return { moved: found.length, unknown: 0 };
}
