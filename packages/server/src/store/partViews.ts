import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { PartView } from '@jasmorphe/contracts/views';
import { isStepOf, type StepOf } from '@jasmorphe/contracts/steps';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { standingOf, type PrintEvent } from '@jasmorphe/core/planning/printState';
import { stepView } from './rowViews.ts';
import type { Library } from './Library.ts';
import { lineStates, logEntries, parts, steps } from './schema.ts';
import { StoreError } from './troubles.ts';

const asItStands = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** Entries of the print log of a model by the mesh that they are about, in the order in which they were made. */
export async function printEventsOf(library: Library, modelId: string): Promise<Map<string, PrintEvent[]>> {
  const rows = await library.db
    .select({
      id: logEntries.id,
      outcome: logEntries.outcome,
      heightMm: logEntries.heightMm,
      correctsId: logEntries.correctsId,
      meshHash: logEntries.meshHash,
    })
    .from(logEntries)
    .where(eq(logEntries.modelId, modelId))
    .orderBy(asc(sql`rowid`));
  const out = new Map<string, PrintEvent[]>();
  for (const { meshHash, ...event } of rows) out.set(meshHash, [...(out.get(meshHash) ?? []), event]);
  return out;
}

/**
 * The parts of a divide step with their lines, poses and prints. A print belongs to the mesh that was on the bed: a
 * part that comes out the same from a changed divide keeps its state, any other begins anew.
 */
export async function partViews(library: Library, modelId: string, divided: StepOf<'divide'>): Promise<PartView[]> {
  const { db } = library;
  const rows = await db
    .select({ part: parts, stepIds: lineStates.stepIds, cursor: lineStates.cursor })
    .from(parts)
    .leftJoin(lineStates, and(eq(lineStates.bodyId, parts.id), eq(lineStates.seq, parts.seq)))
    .where(and(eq(parts.modelId, modelId), eq(parts.stepId, divided.id)))
    .orderBy(asc(parts.position));
  const stepIds = [...new Set(rows.flatMap((r) => r.stepIds ?? []))];
  const lines = new Map(
    (stepIds.length > 0 ? await db.select().from(steps).where(inArray(steps.id, stepIds)) : []).map((s) => [s.id, s]),
  );
  const events = await printEventsOf(library, modelId);
  const { report } = divided;
  const drafts = rows.map(({ part, stepIds: ids, cursor }) => {
    const line = (ids ?? []).map((id) => {
      const row = lines.get(id);
      if (!row) throw new StoreError('database-damaged', `step ${id.slice(0, 12)} of part ${part.tag} is gone`);
      return stepView(row);
    });
    const done = line.slice(0, cursor ?? 0);
    const hash = done.findLast((s) => s.outputs.length > 0)?.outputs[0] ?? part.meshHash;
    return { part, line, cursor: cursor ?? 0, done, hash };
  });
  const hashes = [...new Set(drafts.map((d) => d.hash))];
  const views = new Map((await library.meshesOf(hashes)).map((m) => [m.hash, m]));
  return drafts.map(({ part, line, cursor, done, hash }) => {
    const mesh = views.get(hash);
    if (!mesh) throw new StoreError('database-damaged', `the mesh of part ${part.tag} is not on record`);
    const made = report.parts[part.position];
    const rotation = made?.pose?.rotation ?? asItStands;
    const [, , [ux, uy, uz]] = rotation;
    const recuts = done.flatMap((s) => (isStepOf(s, catalogue.recut) ? [s] : []));
    const { x, y, z } = mesh.facts.size;
    const standing = standingOf(events.get(hash) ?? []);
    return {
      id: part.id,
      modelId,
      tag: recuts.length > 0 ? `${part.tag}r${recuts.length}` : part.tag,
      meshHash: part.meshHash,
      state: standing.state,
      failedAtMm: standing.failedAtMm,
      rests: recuts.length,
      // before anything was said of the rest, the last matter is the recut itself
      canUndoPrint: standing.lastId !== null || recuts.length > 0,
      canRedoPrint: standing.redoId !== null || (line.length > cursor && isStepOf(line[cursor], catalogue.recut)),
      rotation,
      up: [ux, uy, uz],
      heightMm:
        recuts.at(-1)?.report.remainingHeightMm ??
        made?.heightMm ??
        // divided before heights were kept: right for a part that lies on one of its own sides
        Math.abs(ux) * x + Math.abs(uy) * y + Math.abs(uz) * z,
      fits: made?.fits ?? true,
      line,
      cursor,
      mesh,
    };
  });
}
