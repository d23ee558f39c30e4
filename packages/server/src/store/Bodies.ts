import { and, asc, eq, gt, inArray, max, or, sql, type SQL } from 'drizzle-orm';
import type { StepView } from '@jasmorphe/contracts/views';
import { meshHashAfter } from '@jasmorphe/contracts/steps';
import type { Once } from './Answers.ts';
import { Refusal } from './Refusal.ts';
import type { Reading, Statement } from './database.ts';
import type { Meshes } from './Meshes.ts';
import { isNamed, rowsOf } from './named.ts';
import {
  bedfuls,
  dismissals,
  joints,
  lineStates,
  models,
  parts,
  projects,
  tipTicks,
  variantChoices,
} from './schema.ts';
import { StoreError } from './troubles.ts';
import type { Writer } from './Writer.ts';

export type ModelRow = typeof models.$inferSelect;
export type PartRow = typeof parts.$inferSelect;

/** A model or a part, as far as its line goes. */
export interface Body {
  id: string;
  kind: 'model' | 'part';
  projectId: string;
  model: ModelRow;
  part: PartRow | null;
  seq: number;
  /** there are later states of its line */
  canRedo: boolean;
  stepIds: string[];
  cursor: number;
  line: StepView[];
}

/** Throws where a line may not come to stand so. */
export type Holds = (body: Body, next: Pick<Body, 'line' | 'cursor'>) => Promise<void>;

/** A model beside one of which a bedful holds parts too; null where there is none. */
const otherModel = (id: string): SQL =>
  sql`(select json_extract(value, '$.of.model') from json_each(${bedfuls.parts})
    where json_extract(value, '$.of.model') <> ${id} and json_extract(value, '$.of.model') in (select m.id from ${models} m) limit 1)`;

/** What is asked for with every body. */
const queriesOf = (db: Reading) => {
  const { bodyId, seq, stepIds, cursor } = lineStates;
  const columns = { bodyId, stepIds, cursor };
  return {
    models: db.query.models.findMany({ where: isNamed(models.id) }).prepare(),
    parts: db.query.parts.findMany({ where: isNamed(parts.id), with: { model: true } }).prepare(),
    statesOfModels: db
      .select(columns)
      .from(lineStates)
      .innerJoin(models, and(eq(models.id, bodyId), eq(models.seq, seq)))
      .where(isNamed(bodyId))
      .prepare(),
    statesOfParts: db
      .select(columns)
      .from(lineStates)
      .innerJoin(parts, and(eq(parts.id, bodyId), eq(parts.seq, seq)))
      .where(isNamed(bodyId))
      .prepare(),
    lasts: db
      .select({ bodyId, last: max(seq) })
      .from(lineStates)
      .where(isNamed(bodyId))
      .groupBy(bodyId)
      .prepare(),
  };
};

/** Models and parts with their lines: every state a line has been in is kept, and undo and redo walk along them. */
export class Bodies {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly meshes: Meshes,
  ) {
    this.queries = queriesOf(db);
  }

  /** @throws Refusal `not-found`; StoreError where its line is torn */
  async body(id: string): Promise<Body> {
    const found = (await this.bodiesOf([id])).get(id);
    if (!found) throw Refusal.notFound('model or part', id);
    if (found instanceof Error) throw found;
    return found;
  }

  /** Bodies on record among those named; one whose line is torn has the error in its place. */
  async bodiesOf(ids: readonly string[]): Promise<Map<string, Body | StoreError>> {
    const owners = await rowsOf(this.queries.models, ids);
    const known = new Set(owners.map((m) => m.id));
    const ofParts = await rowsOf(
      this.queries.parts,
      ids.filter((id) => !known.has(id)),
    );
    const drafts = [
      ...owners.map((model) => ({ id: model.id, kind: 'model' as const, model, part: null, seq: model.seq })),
      ...ofParts.map(({ model, ...part }) => ({ id: part.id, kind: 'part' as const, model, part, seq: part.seq })),
    ];
    const states = await this.statesOf(drafts);
    const steps = await this.meshes.stepsOf([...states.values()].flatMap((s) => s.stepIds));
    const out = new Map<string, Body | StoreError>();
    for (const draft of drafts) {
      const { stepIds = [], cursor = 0, last = draft.seq } = states.get(draft.id) ?? {};
      try {
        const line = steps.lineOf(stepIds);
        const { projectId } = draft.model;
        out.set(draft.id, { ...draft, projectId, stepIds, cursor, line, canRedo: last > draft.seq });
      } catch (error) {
        if (!(error instanceof StoreError)) throw error;
        out.set(draft.id, error);
      }
    }
    return out;
  }

  /** The states in force of the lines of bodies, and the number of the last that each has been in. */
  private async statesOf(
    bodies: readonly { id: string; seq: number }[],
  ): Promise<Map<string, { stepIds: string[]; cursor: number; last: number }>> {
    const ids = bodies.map((b) => b.id);
    const rows = [
      ...(await rowsOf(this.queries.statesOfModels, ids)),
      ...(await rowsOf(this.queries.statesOfParts, ids)),
    ];
    const lasts = await rowsOf(this.queries.lasts, ids);
    const last = new Map(lasts.map((l) => [l.bodyId, l.last ?? 0]));
    return new Map(rows.map(({ bodyId: id, ...state }) => [id, { ...state, last: last.get(id) ?? 0 }]));
  }

  /** Hash of the mesh after the first `count` steps; a divide leaves the whole as it was. */
  meshAfter(body: Pick<Body, 'line' | 'part'>, count: number): string {
    const made = meshHashAfter(body.line, count);
    if (made !== undefined) return made;
    if (body.part) return body.part.meshHash;
    throw new Refusal('state', 'no-mesh', 'This model has no mesh yet.', 'Import one.');
  }

  /** Statements that put a line into a new state, forgetting what could have been redone. */
  lineStatements(body: Pick<Body, 'id' | 'kind' | 'seq'>, stepIds: string[], cursor: number): Statement[] {
    const seq = body.seq + 1;
    return [
      this.db.delete(lineStates).where(and(eq(lineStates.bodyId, body.id), gt(lineStates.seq, body.seq))),
      this.db.insert(lineStates).values({ bodyId: body.id, seq, stepIds, cursor }),
      this.seqStatement(body, seq),
    ];
  }

  /** Statements that make a model, whose line begins with these steps. */
  modelStatements(row: typeof models.$inferInsert, stepIds: string[]): Statement[] {
    return [
      this.db.insert(models).values(row),
      this.db.insert(lineStates).values({ bodyId: row.id, seq: 1, stepIds, cursor: stepIds.length }),
      this.touch(row.projectId),
    ];
  }

  /** The statement that gives a model another file. */
  sourceStatement(id: string, { hash, name }: { hash: string; name: string }): Statement {
    const sourceName = name.slice(name.lastIndexOf('/') + 1);
    return this.db.update(models).set({ sourceHash: hash, sourceName, path: name }).where(eq(models.id, id));
  }

  /**
   * Takes the last change of many lines back, together with what belongs to that: of those that still stand at the state
   * that is named.
   *
   * @param holds as of `move`
   * @returns the bodies that were changed
   */
  async undoAll(
    which: readonly { bodyId: string; seq: number }[],
    beside: readonly Statement[],
    holds: Holds,
  ): Promise<string[]> {
    const bodies = await this.bodiesOf(which.map((w) => w.bodyId));
    const still = which.flatMap(({ bodyId, seq }) => {
      const body = bodies.get(bodyId);
      return body && !(body instanceof Error) && body.seq === seq && seq > 1 ? [body] : [];
    });
    const statements = still.map((b) => this.seqStatement(b, b.seq - 1));
    const touched = [...new Set(still.map((b) => b.projectId))].map((id) => this.touch(id));
    await this.writer.commit('undo a batch', [...beside, ...statements, ...touched], {
      holds: async () => {
        // whoever was changed in between keeps that change
        const now = await this.bodiesOf(still.map((b) => b.id));
        for (const b of still) {
          const found = now.get(b.id);
          if (!found || found instanceof Error || found.seq !== b.seq)
            throw new Refusal('state', 'busy', `"${b.model.name}" was just changed.`, 'Try again.');
          await holds(b, await this.stateAt(b, b.seq - 1));
        }
      },
    });
    return still.map((b) => b.id);
  }

  /**
   * Takes the last change of a line back, or brings it back. Two that are asked for at once are two: each starts from where the
   * other left the line.
   *
   * @param holds throws where the line may not come to stand so, asked while nothing else is written
   */
  async move(id: string, way: 'undo' | 'redo', holds?: Holds, once?: Once): Promise<void> {
    const statements = async (): Promise<Statement[]> => {
      const body = await this.body(id);
      if (way === 'undo' && body.seq <= 1)
        throw new Refusal('state', 'nothing-to-undo', 'There is nothing to undo.', '');
      if (way === 'redo' && !body.canRedo)
        throw new Refusal('state', 'nothing-to-redo', 'There is nothing to redo.', '');
      const seq = body.seq + (way === 'undo' ? -1 : 1);
      await holds?.(body, await this.stateAt(body, seq));
      return [this.seqStatement(body, seq), this.touch(body.projectId), ...(once?.beside ?? [])];
    };
    await this.writer.commit('undo or redo', statements, { holds: once?.holds });
  }

  /** Lines as they stood, or will stand again, at the states whose numbers are picked. */
  private async statesAt({ id }: Pick<Body, 'id'>, which: SQL): Promise<Pick<Body, 'line' | 'cursor'>[]> {
    const states = await this.db.query.lineStates.findMany({
      where: and(eq(lineStates.bodyId, id), which),
      orderBy: asc(lineStates.seq),
    });
    const steps = await this.meshes.stepsOf(states.flatMap((s) => s.stepIds));
    return states.map(({ stepIds, cursor }) => ({ line: steps.lineOf(stepIds), cursor }));
  }

  private async stateAt(body: Pick<Body, 'id'>, seq: number): Promise<Pick<Body, 'line' | 'cursor'>> {
    const [state] = await this.statesAt(body, eq(lineStates.seq, seq));
    return state ?? { line: [], cursor: 0 };
  }

  /** States that only a redo comes back to: a new one would make them final. */
  async statesAhead({
    id,
    seq,
    canRedo,
  }: Pick<Body, 'id' | 'seq' | 'canRedo'>): Promise<Pick<Body, 'line' | 'cursor'>[]> {
    return canRedo ? this.statesAt({ id }, gt(lineStates.seq, seq)) : [];
  }

  /** @param holds as of `move` */
  async moveCursor(id: string, cursor: number, holds?: Holds): Promise<void> {
    await this.writer.commit('move along the line', async () => {
      const body = await this.body(id);
      const { length } = body.stepIds;
      const least = body.kind === 'model' ? 1 : 0;
      if (cursor < least || cursor > length)
        throw new Refusal(
          'request',
          'bad-params',
          `The line has ${length} steps; ${cursor} is none of them.`,
          '',
          'cursor',
        );
      if (cursor === body.cursor) return [];
      await holds?.(body, { line: body.line, cursor });
      return this.lineStatements(body, body.stepIds, cursor);
    });
  }

  /** Removes a model with its parts, at once or not at all. Its jobs must have ended. */
  async removeModel(id: string): Promise<void> {
    const body = await this.body(id);
    if (body.kind !== 'model')
      throw new Refusal('request', 'cannot', 'A part goes away with its divide step.', 'Undo the divide instead.');
    await this.writer.commit('remove model', [
      ...this.removeLines(eq(models.id, id)),
      // a bedful that holds parts of other models too stays theirs
      this.db
        .update(bedfuls)
        .set({ modelId: otherModel(id) })
        .where(and(eq(bedfuls.modelId, id), sql`${otherModel(id)} is not null`)),
      this.db.delete(models).where(eq(models.id, id)),
      this.touch(body.projectId),
    ]);
  }

  /** Statements that remove the lines, and what else was said, of models and of their parts. */
  removeLines(which: SQL): Statement[] {
    const own = this.db.select({ id: models.id }).from(models).where(which);
    const theirParts = this.db.select({ id: parts.id }).from(parts).where(inArray(parts.modelId, own));
    return [lineStates, dismissals, joints, tipTicks, variantChoices].map((table) =>
      this.db.delete(table).where(or(inArray(table.bodyId, own), inArray(table.bodyId, theirParts))),
    );
  }

  private touch(projectId: string): Statement {
    return this.db.update(projects).set({ updatedAt: new Date().toISOString() }).where(eq(projects.id, projectId));
  }

  private seqStatement(body: Pick<Body, 'id' | 'kind'>, seq: number): Statement {
    return body.kind === 'model'
      ? this.db.update(models).set({ seq }).where(eq(models.id, body.id))
      : this.db.update(parts).set({ seq }).where(eq(parts.id, body.id));
  }
}
