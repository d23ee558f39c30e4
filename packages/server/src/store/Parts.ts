import { and, asc, eq, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { randomUUID } from 'node:crypto';
import { poseAfter } from '@jasmorphe/contracts/reading/poses';
import { isStepOf, type StepOf } from '@jasmorphe/contracts/steps';
import type { MeshView, PartView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { takenOf } from '@jasmorphe/core/operations/pose/describe';
import { standingOf, type PrintEvent } from '@jasmorphe/core/planning/printState';
import type { PartRow } from './Bodies.ts';
import type { Reading, Statement } from './database.ts';
import type { KnownSteps, Meshes } from './Meshes.ts';
import { isNamed } from './named.ts';
import type { PrintLog } from './PrintLog.ts';
import { lineStates, parts } from './schema.ts';
import { StoreError } from './troubles.ts';

/** A part with the state of its line that is in force. */
interface Draft {
  part: PartRow;
  stepIds: string[];
  cursor: number;
  /** the last step of the state that a redo brings back */
  redoes: string | undefined;
}

/** States that a redo brings back. */
const ahead = alias(lineStates, 'ahead');

const queriesOf = (db: Reading) => ({
  /** the parts of models that divide steps made, with the states of their lines */
  made: db
    .select({ part: parts, stepIds: lineStates.stepIds, cursor: lineStates.cursor, ahead: ahead.stepIds })
    .from(parts)
    .leftJoin(lineStates, and(eq(lineStates.bodyId, parts.id), eq(lineStates.seq, parts.seq)))
    .leftJoin(ahead, and(eq(ahead.bodyId, parts.id), eq(ahead.seq, sql`${parts.seq} + 1`)))
    .where(and(isNamed(parts.modelId), isNamed(parts.stepId, 'steps')))
    .orderBy(asc(parts.position))
    .prepare(),
});

/** Parts that divides made. */
export class Parts {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly meshes: Meshes,
    private readonly prints: PrintLog,
  ) {
    this.queries = queriesOf(db);
  }

  /**
   * The parts of divide steps, by model, with their lines, poses and prints; an error in the place of those that cannot
   * be read. A print belongs to the mesh that was on the bed: a part that comes out the same from a changed divide keeps
   * its state, any other begins anew.
   *
   * @param divided by model, the divide that is in force there
   */
  async viewsOf(divided: ReadonlyMap<string, StepOf<'divide'>>): Promise<Map<string, PartView[] | StoreError>> {
    const modelIds = [...divided.keys()];
    if (modelIds.length === 0) return new Map();
    const stepIds = [...divided.values()].map((step) => step.id);
    const rows = await this.queries.made.execute({ names: JSON.stringify(modelIds), steps: JSON.stringify(stepIds) });
    const drafts = new Map<string, Draft[]>(modelIds.map((id) => [id, []]));
    for (const { part, stepIds, cursor, ahead } of rows)
      if (part.stepId === divided.get(part.modelId)!.id)
        drafts.get(part.modelId)!.push({ part, stepIds: stepIds ?? [], cursor: cursor ?? 0, redoes: ahead?.at(-1) });
    const steps = await this.meshes.stepsOf(rows.flatMap((r) => [...(r.stepIds ?? []), ...(r.ahead ?? []).slice(-1)]));
    const events = await this.prints.eventsOf(modelIds);
    const hashes = [...steps.values()].flatMap((s) => s.outputs).concat(rows.map((r) => r.part.meshHash));
    const meshes = await this.meshes.meshesOf(hashes);
    const out = new Map<string, PartView[] | StoreError>();
    for (const [modelId, list] of drafts)
      try {
        const { report } = divided.get(modelId)!;
        const mine = events.get(modelId);
        out.set(
          modelId,
          list.map((draft) => viewOf(draft, report.parts[draft.part.position], steps, meshes, mine)),
        );
      } catch (error) {
        if (!(error instanceof StoreError)) throw error;
        out.set(modelId, error);
      }
    return out;
  }

  /** Statements that make the parts of a divide step, unless they are there from an earlier time. */
  async partStatements(modelId: string, step: Omit<StepOf<'divide'>, 'createdAt'>): Promise<Statement[]> {
    const there = await this.db.query.parts.findFirst({
      columns: { id: true },
      where: and(eq(parts.modelId, modelId), eq(parts.stepId, step.id)),
    });
    if (there) return [];
    const earlier = await this.db
      .select({ meshHash: parts.meshHash, stepIds: lineStates.stepIds, cursor: lineStates.cursor })
      .from(parts)
      .innerJoin(lineStates, and(eq(lineStates.bodyId, parts.id), eq(lineStates.seq, parts.seq)))
      .where(eq(parts.modelId, modelId));
    return step.report.parts.flatMap((part, position) => {
      const id = randomUUID();
      const meshHash = step.outputs[position];
      // a part that comes out as it was keeps what was done to it, such as a recut
      const before = earlier.findLast((p) => p.meshHash === meshHash && p.stepIds.length > 0);
      return [
        this.db.insert(parts).values({ id, modelId, stepId: step.id, position, tag: part.tag, meshHash }),
        this.db
          .insert(lineStates)
          .values({ bodyId: id, seq: 1, stepIds: before?.stepIds ?? [], cursor: before?.cursor ?? 0 }),
      ];
    });
  }
}

function viewOf(
  { part, stepIds, cursor, redoes }: Draft,
  made: StepOf<'divide'>['report']['parts'][number] | undefined,
  steps: KnownSteps,
  meshes: ReadonlyMap<string, MeshView>,
  events: ReadonlyMap<string, PrintEvent[]> | undefined,
): PartView {
  const line = steps.lineOf(stepIds);
  const done = line.slice(0, cursor);
  const hash = done.findLast((s) => s.outputs.length > 0)?.outputs[0] ?? part.meshHash;
  const mesh = meshes.get(hash);
  if (!made) throw new StoreError('database-damaged', `part ${part.tag} is none of those that its divide made`);
  if (!mesh) throw new StoreError('database-damaged', `the mesh of part ${part.tag} is not on record`);
  const pose = poseAfter(line, cursor);
  const taken = pose && takenOf(pose.report);
  const rotation = taken?.rotation ?? made.pose.rotation;
  const [, , [ux, uy, uz]] = rotation;
  const recuts = done.flatMap((s) => (isStepOf(s, catalogue.recut) ? [s] : []));
  // a recut takes away of the height; a pose that was chosen after it is of what is left
  const lowered = recuts.at(-1) && done.lastIndexOf(recuts.at(-1)!) > (pose ? done.lastIndexOf(pose) : -1);
  const standing = standingOf(events?.get(hash) ?? []);
  const redone = steps.get(redoes ?? '');
  // a recut is brought back only onto the very print that it was made of
  const recutAgain =
    standing.state === 'failed' &&
    redone !== undefined &&
    isStepOf(redone, catalogue.recut) &&
    redone.inputs[0] === hash;
  return {
    id: part.id,
    modelId: part.modelId,
    tag: recuts.length > 0 ? `${part.tag}r${recuts.length}` : part.tag,
    meshHash: part.meshHash,
    state: standing.state,
    failedAtMm: standing.failedAtMm,
    rests: recuts.length,
    // before anything was said of the rest, the last matter is the recut itself
    canUndoPrint: standing.lastId !== null || (done.at(-1) !== undefined && isStepOf(done.at(-1)!, catalogue.recut)),
    canRedoPrint: standing.redoId !== null || recutAgain,
    rotation,
    up: [ux, uy, uz],
    heightMm: lowered ? recuts.at(-1)!.report.remainingHeightMm : (taken?.heightMm ?? made.heightMm),
    fits: taken?.fits ?? made.fits,
    posed:
      taken && pose.inputs[0] === hash
        ? {
            school: taken.school,
            durationS: taken.durationS,
            materialG: taken.materialG,
            supportMm3: taken.supportMm3,
          }
        : null,
    printer: made.printer,
    apart: [made.apart.x, made.apart.y, made.apart.z],
    line,
    cursor,
    mesh,
  };
}
