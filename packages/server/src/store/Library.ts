import { type StepRow, stepView, meshView } from './rowViews.ts';
import { and, asc, desc, eq, gt, inArray, or, sql, type SQL } from 'drizzle-orm';
import type { BatchItem } from 'drizzle-orm/batch';
import { randomUUID } from 'node:crypto';
import type { DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { inspectionVersion, readInspection, type Inspection } from '@jasmorphe/core/inspect/Inspection';
import { findingsOfBody } from '@jasmorphe/contracts/findings';
import { examplePlaces } from '@jasmorphe/core/trade/placeKinds';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { lastStepOf, meshHashAfter } from '@jasmorphe/contracts/steps';
import type {
  BodyView,
  MeshView,
  ProjectSummary,
  ProjectView,
  ReferenceView,
  StepView,
} from '@jasmorphe/contracts/views';
import { ApiError } from '../http/ApiError.ts';
import type { StoredMesh } from '../jobs/worker.ts';
import type { BlobStore } from './BlobStore.ts';
import { collectUnneeded, type Collected } from './collect.ts';
import type { Database } from './database.ts';
import { Gate } from './Gate.ts';
import { partViews } from './partViews.ts';
import { dismissals, jobs, lineStates, meshes, models, parts, places, projects, references, steps } from './schema.ts';
import { mayPass, StoreError, troubleOf } from './troubles.ts';
type ModelRow = typeof models.$inferSelect;
type PartRow = typeof parts.$inferSelect;

/** One change of the database, waiting to be made together with others. */
export type Statement = BatchItem<'sqlite'>;

/** What must still be there when a change is made, or the change is refused. */
export interface Relied {
  projects?: string[];
  /** models or parts */
  bodies?: string[];
  meshes?: string[];
  sources?: string[];
  /** throws when something else stands in the way by now; nothing else is changed while it looks */
  holds?: () => Promise<void>;
}

/** How long a change waits for another program to let the database go, ms. */
const patienceMs = 30_000;

/** A model or a part, as far as its line goes. */
export interface Body {
  id: string;
  kind: 'model' | 'part';
  projectId: string;
  model: ModelRow;
  part: PartRow | null;
  seq: number;
  stepIds: string[];
  cursor: number;
  line: StepView[];
}

const now = (): string => new Date().toISOString();

const referenceView = ({ modelId: _model, createdAt: _at, ...view }: typeof references.$inferSelect): ReferenceView =>
  view;

/** Everything the server knows, in the words of the trade: projects, bodies with their lines, steps and meshes. */
export class Library {
  /** changes and collecting pass one at a time, so that nothing is collected while it comes into use */
  private readonly gate = new Gate();
  /** told before and after every change; for tests that end the process at such an instant */
  witness: (instant: 'before' | 'after', what: string) => void = () => undefined;

  constructor(
    readonly db: Database,
    readonly blobs: BlobStore,
  ) {}

  async projectRow(id: string): Promise<typeof projects.$inferSelect> {
    const [row] = await this.db.select().from(projects).where(eq(projects.id, id));
    if (!row) throw ApiError.notFound('project', id);
    return row;
  }

  async createProject(name: string, note: string): Promise<ProjectView> {
    const row = { id: randomUUID(), name, note, createdAt: now(), updatedAt: now() };
    await this.commit('project', [this.db.insert(projects).values(row)]);
    return { ...row, modelIds: [], models: [] };
  }

  async changeProject(id: string, change: { name?: string; note?: string }): Promise<ProjectView> {
    await this.projectRow(id);
    await this.commit('project', [
      this.db
        .update(projects)
        .set({ ...change, updatedAt: now() })
        .where(eq(projects.id, id)),
    ]);
    return this.project(id);
  }

  async project(id: string): Promise<ProjectView> {
    const row = await this.projectRow(id);
    const list = await this.db
      .select({ id: models.id, name: models.name })
      .from(models)
      .where(eq(models.projectId, id))
      .orderBy(asc(models.createdAt), asc(models.id));
    return { ...row, modelIds: list.map((m) => m.id), models: list };
  }

  async shelf(): Promise<ProjectSummary[]> {
    const rows = await this.db.select().from(projects).orderBy(desc(projects.updatedAt));
    const out: ProjectSummary[] = [];
    for (const row of rows) {
      const { id, name, note, updatedAt } = row;
      const blank = { id, name, note, updatedAt, models: [], parts: 0, printed: 0, attention: [] };
      try {
        out.push({ ...blank, ...(await this.summary(id)), trouble: null });
      } catch (error) {
        // one bad row must not take the others away
        console.error(`Project ${id} cannot be read:`, error);
        const what = troubleOf(error)?.message ?? 'Part of its record cannot be read.';
        out.push({ ...blank, trouble: `${what} "jasmorphe doctor" tells more.` });
      }
    }
    return out;
  }

  private async summary(id: string): Promise<Pick<ProjectSummary, 'models' | 'parts' | 'printed' | 'attention'>> {
    const { modelIds } = await this.project(id);
    const bodies = await Promise.all(modelIds.map((m) => this.bodyView(m)));
    const allParts = bodies.flatMap((b) => b.parts);
    const attention: string[] = [];
    for (const b of bodies) {
      for (const p of b.parts)
        if (p.state === 'failed')
          attention.push(`${p.tag} stopped at ${p.failedAtMm ?? '?'} mm: decide what can be saved`);
        else if (p.rests > 0 && p.state === 'planned')
          attention.push(`${p.tag}: the rest that was recut waits to be printed`);
      const failures = findingsOfBody(b, null).filter((f) => f.severity === 'failure' && f.aside === null);
      if (failures.length > 0)
        attention.push(`${b.name}: ${failures.length} ${failures.length === 1 ? 'finding' : 'findings'} to mend`);
    }
    return {
      models: bodies.map((b) => ({
        id: b.id,
        name: b.name,
        meshHash: b.mesh.hash,
        sizeMm: b.mesh.facts.size,
        stage: b.line[b.cursor - 1]?.operation ?? catalogue.import.name,
      })),
      parts: allParts.length,
      printed: allParts.filter((p) => p.state === 'printed').length,
      attention,
    };
  }

  /** Removes a project with all that belongs to it, at once or not at all. Its jobs must have ended. */
  async removeProject(id: string): Promise<void> {
    await this.projectRow(id);
    await this.commit('remove project', [
      ...this.removeLines(this.modelIds(eq(models.projectId, id))),
      // models, parts, references, jobs and the log go with it
      this.db.delete(projects).where(eq(projects.id, id)),
    ]);
  }

  /** Removes a model with its parts, at once or not at all. Its jobs must have ended. */
  async removeModel(id: string): Promise<void> {
    const body = await this.body(id);
    if (body.kind !== 'model')
      throw new ApiError(400, 'cannot', 'A part goes away with its divide step.', 'Undo the divide instead.');
    await this.commit('remove model', [
      ...this.removeLines(this.modelIds(eq(models.id, id))),
      this.db.delete(models).where(eq(models.id, id)),
      this.touchStatement(body.projectId),
    ]);
  }

  /** Statements that remove the lines and dismissals of models and of their parts. */
  private removeLines(own: ReturnType<Library['modelIds']>): Statement[] {
    const theirParts = this.db.select({ id: parts.id }).from(parts).where(inArray(parts.modelId, own));
    return [
      this.db.delete(lineStates).where(or(inArray(lineStates.bodyId, own), inArray(lineStates.bodyId, theirParts))),
      this.db.delete(dismissals).where(or(inArray(dismissals.bodyId, own), inArray(dismissals.bodyId, theirParts))),
    ];
  }

  private modelIds(which: SQL) {
    return this.db.select({ id: models.id }).from(models).where(which);
  }

  async body(id: string): Promise<Body> {
    const [model] = await this.db.select().from(models).where(eq(models.id, id));
    const [part] = model ? [] : await this.db.select().from(parts).where(eq(parts.id, id));
    if (!model && !part) throw ApiError.notFound('model or part', id);
    const owner = model ?? (await this.db.select().from(models).where(eq(models.id, part.modelId)))[0];
    const seq = model ? model.seq : part.seq;
    const [state] = await this.db
      .select()
      .from(lineStates)
      .where(and(eq(lineStates.bodyId, id), eq(lineStates.seq, seq)));
    const stepIds = state?.stepIds ?? [];
    const rows = stepIds.length > 0 ? await this.db.select().from(steps).where(inArray(steps.id, stepIds)) : [];
    const byId = new Map(rows.map((r) => [r.id, r]));
    return {
      id,
      kind: model ? 'model' : 'part',
      projectId: owner.projectId,
      model: owner,
      part: part ?? null,
      seq,
      stepIds,
      cursor: state?.cursor ?? 0,
      line: stepIds.map((s) => {
        const row = byId.get(s);
        if (!row) throw new StoreError('database-damaged', `step ${s.slice(0, 12)} of a line is gone`);
        return stepView(row);
      }),
    };
  }

  /** Hash of the mesh after the first `count` steps; a divide leaves the whole as it was. */
  meshAfter(body: Body, count: number): string {
    const made = meshHashAfter(body.line, count);
    if (made !== undefined) return made;
    if (body.part) return body.part.meshHash;
    throw new ApiError(409, 'no-mesh', 'This model has no mesh yet.', 'Import one.');
  }

  async mesh(hash: string): Promise<MeshView> {
    const [row] = await this.db.select().from(meshes).where(eq(meshes.hash, hash));
    if (!row) throw ApiError.notFound('mesh', hash);
    return meshView(row);
  }

  /** Meshes on record among those named, in no order. */
  async meshesOf(hashes: string[]): Promise<MeshView[]> {
    const out: MeshView[] = [];
    for (let i = 0; i < hashes.length; i += 500)
      out.push(
        ...(
          await this.db
            .select()
            .from(meshes)
            .where(inArray(meshes.hash, hashes.slice(i, i + 500)))
        ).map(meshView),
      );
    return out;
  }

  /** Meshes that were inspected by an earlier version of inspecting, newest first. */
  async outdatedMeshes(): Promise<string[]> {
    const rows = await this.db
      .select({ hash: meshes.hash })
      .from(meshes)
      .where(sql`coalesce(json_extract(${meshes.facts}, '$.version'), 0) < ${inspectionVersion}`)
      .orderBy(desc(meshes.createdAt));
    return rows.map((r) => r.hash);
  }

  /** Puts what was found of a mesh in the place of what was found earlier. */
  async keepFacts(hash: string, facts: Inspection): Promise<void> {
    await this.commit('facts', [this.db.update(meshes).set({ facts }).where(eq(meshes.hash, hash))], {
      meshes: [hash],
    });
  }

  async step(id: string): Promise<StepView | null> {
    const [row] = await this.db.select().from(steps).where(eq(steps.id, id));
    return row ? stepView(row) : null;
  }

  async bodyView(id: string): Promise<BodyView> {
    const body = await this.body(id);
    const later = await this.db
      .select({ seq: lineStates.seq })
      .from(lineStates)
      .where(and(eq(lineStates.bodyId, id), gt(lineStates.seq, body.seq)))
      .limit(1);
    const [busy] = await this.db
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(eq(jobs.bodyId, id), eq(jobs.kind, 'line'), inArray(jobs.state, ['queued', 'running'])))
      .limit(1);
    const divided = lastStepOf(body.line, body.cursor, catalogue.divide);
    const mesh = await this.mesh(this.meshAfter(body, body.cursor));
    return {
      id,
      kind: body.kind,
      projectId: body.projectId,
      modelId: body.model.id,
      name: body.part ? body.part.tag : body.model.name,
      sourceName: body.model.sourceName,
      licence: body.model.licence,
      line: body.line,
      cursor: body.cursor,
      canUndo: body.seq > 1,
      canRedo: later.length > 0,
      mesh,
      parts: divided && body.kind === 'model' ? await partViews(this, body.model.id, divided) : [],
      dismissals: await this.db
        .select({ code: dismissals.code, reason: dismissals.reason, at: dismissals.at })
        .from(dismissals)
        .where(eq(dismissals.bodyId, id)),
      references:
        body.kind === 'model'
          ? (
              await this.db
                .select()
                .from(references)
                .where(eq(references.modelId, id))
                .orderBy(asc(references.createdAt))
            ).map(referenceView)
          : [],
      busyJobId: busy?.id ?? null,
    };
  }

  /** Sees to it that everything a change relies on is there, or throws; files are fetched back from the trash. */
  private async stands(relied: Relied): Promise<void> {
    await relied.holds?.();
    for (const id of relied.projects ?? []) await this.projectRow(id);
    for (const id of relied.bodies ?? []) await this.body(id);
    for (const hash of relied.meshes ?? [])
      if (!(await this.blobs.ensure('meshes', hash))) throw new StoreError('file-missing', `meshes/${hash}`);
    for (const hash of relied.sources ?? [])
      if (!(await this.blobs.ensure('sources', hash))) throw new StoreError('file-missing', `sources/${hash}`);
  }

  /**
   * Makes all changes or none, once what they rely on is seen to stand. While another program holds the database it
   * tries again for half a minute.
   *
   * @throws ApiError `not-found` when a project or body is gone; StoreError when a file is
   */
  async commit(what: string, statements: Statement[], relied: Relied = {}): Promise<void> {
    const [first, ...rest] = statements;
    if (!first) return;
    await this.gate.run(async () => {
      await this.stands(relied);
      this.witness('before', what);
      for (let waited = 0, pause = 50; ; pause = Math.min(2 * pause, 1000)) {
        try {
          await this.db.batch([first, ...rest]);
          break;
        } catch (error) {
          if (!mayPass(error) || waited >= patienceMs) throw error;
          await new Promise((resolve) => setTimeout(resolve, pause));
          waited += pause;
        }
      }
      this.witness('after', what);
    });
  }

  /** A step that is known and whose meshes are all there; null when it has to be worked out. */
  async knownStep(id: string): Promise<{ step: StepView; outputs: StoredMesh[] } | null> {
    const step = await this.step(id);
    if (!step) return null;
    const rows =
      step.outputs.length > 0 ? await this.db.select().from(meshes).where(inArray(meshes.hash, step.outputs)) : [];
    const byHash = new Map(rows.map((r) => [r.hash, r]));
    const outputs: StoredMesh[] = [];
    for (const hash of step.outputs) {
      const row = byHash.get(hash);
      if (!row || !(await this.blobs.ensure('meshes', hash))) return null;
      outputs.push({
        hash,
        triangles: row.triangles,
        vertices: row.vertices,
        bytes: row.bytes,
        facts: readInspection(row.facts),
      });
    }
    return { step, outputs };
  }

  /** Statements that store a finished step with its meshes. */
  stepStatements(step: Omit<StepRow, 'createdAt'>, outputs: StoredMesh[]): Statement[] {
    return [
      ...outputs.map((m) =>
        this.db
          .insert(meshes)
          .values({ ...m, createdAt: now() })
          .onConflictDoNothing(),
      ),
      this.db
        .insert(steps)
        .values({ ...step, createdAt: now() })
        // a step whose meshes were lost is worked out again
        .onConflictDoUpdate({
          target: steps.id,
          set: { outputs: step.outputs, report: step.report, elapsedMs: step.elapsedMs },
        }),
    ];
  }

  /** Statements that put a line into a new state, forgetting what could have been redone. */
  lineStatements(
    body: { id: string; kind: 'model' | 'part'; seq: number },
    stepIds: string[],
    cursor: number,
  ): Statement[] {
    const seq = body.seq + 1;
    return [
      this.db.delete(lineStates).where(and(eq(lineStates.bodyId, body.id), gt(lineStates.seq, body.seq))),
      this.db.insert(lineStates).values({ bodyId: body.id, seq, stepIds, cursor }),
      body.kind === 'model'
        ? this.db.update(models).set({ seq }).where(eq(models.id, body.id))
        : this.db.update(parts).set({ seq }).where(eq(parts.id, body.id)),
    ];
  }

  /** Statements that make the parts of a divide step, unless they are there from an earlier time. */
  async partStatements(
    modelId: string,
    step: { id: string; outputs: string[]; report: unknown },
  ): Promise<Statement[]> {
    const have = await this.db
      .select({ id: parts.id })
      .from(parts)
      .where(and(eq(parts.modelId, modelId), eq(parts.stepId, step.id)))
      .limit(1);
    if (have.length > 0) return [];
    const report = step.report as DivideReport;
    const earlier = await this.db
      .select({ meshHash: parts.meshHash, stepIds: lineStates.stepIds, cursor: lineStates.cursor })
      .from(parts)
      .innerJoin(lineStates, and(eq(lineStates.bodyId, parts.id), eq(lineStates.seq, parts.seq)))
      .where(eq(parts.modelId, modelId));
    return report.parts.flatMap((part, position) => {
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

  modelStatements(row: typeof models.$inferInsert, stepIds: string[]): Statement[] {
    return [
      this.db.insert(models).values(row),
      this.db.insert(lineStates).values({ bodyId: row.id, seq: 1, stepIds, cursor: stepIds.length }),
      this.touchStatement(row.projectId),
    ];
  }

  touchStatement(projectId: string) {
    return this.db.update(projects).set({ updatedAt: now() }).where(eq(projects.id, projectId));
  }

  private async setSeq(body: Body, seq: number): Promise<void> {
    await this.commit(
      'undo or redo',
      [
        body.kind === 'model'
          ? this.db.update(models).set({ seq }).where(eq(models.id, body.id))
          : this.db.update(parts).set({ seq }).where(eq(parts.id, body.id)),
        this.touchStatement(body.projectId),
      ],
      { bodies: [body.id] },
    );
  }

  async undo(id: string): Promise<void> {
    const body = await this.body(id);
    if (body.seq <= 1) throw new ApiError(409, 'nothing-to-undo', 'There is nothing to undo.', '');
    await this.setSeq(body, body.seq - 1);
  }

  async redo(id: string): Promise<void> {
    const body = await this.body(id);
    const [next] = await this.db
      .select()
      .from(lineStates)
      .where(and(eq(lineStates.bodyId, id), eq(lineStates.seq, body.seq + 1)));
    if (!next) throw new ApiError(409, 'nothing-to-redo', 'There is nothing to redo.', '');
    await this.setSeq(body, body.seq + 1);
  }

  async moveCursor(id: string, cursor: number): Promise<void> {
    const body = await this.body(id);
    const least = body.kind === 'model' ? 1 : 0;
    if (cursor < least || cursor > body.stepIds.length)
      throw new ApiError(
        400,
        'bad-params',
        `The line has ${body.stepIds.length} steps; ${cursor} is none of them.`,
        '',
        'cursor',
      );
    if (cursor === body.cursor) return;
    await this.commit('move along the line', this.lineStatements(body, body.stepIds, cursor), { bodies: [id] });
  }

  /** Puts example places into a store that nothing was ever put into. */
  async furnish(): Promise<void> {
    const [first] = await this.db.select({ id: projects.id }).from(projects).limit(1);
    const [place] = await this.db.select({ id: places.id }).from(places).limit(1);
    if (first || place) return;
    const start = Date.now();
    await this.db
      .insert(places)
      .values(examplePlaces.map((p, i) => ({ id: randomUUID(), ...p, createdAt: new Date(start + i).toISOString() })));
  }

  /** Moves what nothing can come back to into the trash, while nothing else is changed. */
  collect(youngerMs?: number): Promise<Collected> {
    return this.gate.run(() => collectUnneeded(this.db, this.blobs, youngerMs));
  }
}
