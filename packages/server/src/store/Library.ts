import { and, asc, desc, eq, gt, inArray, sql } from 'drizzle-orm';
import type { BatchItem } from 'drizzle-orm/batch';
import { randomUUID } from 'node:crypto';
import type { DivideReport } from '@jasmorphe/core/operations/divide/divide';
import type { Inspection } from '@jasmorphe/core/mesh/inspect';
import { examplePlaces } from '@jasmorphe/core/planning/places';
import type { OperationName } from '@jasmorphe/core/operations/registry';
import type {
  BodyView,
  MeshView,
  PartView,
  ProjectSummary,
  ProjectView,
  ReferenceView,
  StepView,
} from '@jasmorphe/contracts/views';
import { ApiError } from '../http/ApiError.ts';
import type { StoredMesh } from '../jobs/worker.ts';
import type { BlobStore } from './BlobStore.ts';
import type { Database } from './database.ts';
import { dismissals, jobs, lineStates, meshes, models, parts, places, projects, references, steps } from './schema.ts';

type StepRow = typeof steps.$inferSelect;
type ModelRow = typeof models.$inferSelect;
type PartRow = typeof parts.$inferSelect;

/** One change of the database, waiting to be made together with others. */
export type Statement = BatchItem<'sqlite'>;

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

export const stepView = (row: StepRow): StepView => ({ ...row, operation: row.operation as OperationName });

const referenceView = ({ modelId: _model, createdAt: _at, ...view }: typeof references.$inferSelect): ReferenceView =>
  view;

const meshView = (row: typeof meshes.$inferSelect): MeshView => ({
  hash: row.hash,
  triangles: row.triangles,
  vertices: row.vertices,
  bytes: row.bytes,
  facts: row.facts as Inspection,
});

/** Everything the server knows, in the words of the trade: projects, bodies with their lines, steps and meshes. */
export class Library {
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
    await this.db.insert(projects).values(row);
    return { ...row, modelIds: [] };
  }

  async changeProject(id: string, change: { name?: string; note?: string }): Promise<ProjectView> {
    await this.projectRow(id);
    await this.db
      .update(projects)
      .set({ ...change, updatedAt: now() })
      .where(eq(projects.id, id));
    return this.project(id);
  }

  async project(id: string): Promise<ProjectView> {
    const row = await this.projectRow(id);
    const list = await this.db
      .select({ id: models.id })
      .from(models)
      .where(eq(models.projectId, id))
      .orderBy(asc(models.createdAt), asc(models.id));
    return { ...row, modelIds: list.map((m) => m.id) };
  }

  async shelf(): Promise<ProjectSummary[]> {
    const rows = await this.db.select().from(projects).orderBy(desc(projects.updatedAt));
    const out: ProjectSummary[] = [];
    for (const row of rows) {
      const { modelIds } = await this.project(row.id);
      const bodies = await Promise.all(modelIds.map((id) => this.bodyView(id)));
      const allParts = bodies.flatMap((b) => b.parts);
      const attention: string[] = [];
      for (const b of bodies) {
        for (const p of b.parts)
          if (p.state === 'failed') {
            const recut = p.line.slice(0, p.cursor).some((s) => s.operation === 'recut');
            attention.push(
              `${p.tag} stopped at ${p.failedAtMm ?? '?'} mm: ${recut ? 'print the piece that was recut' : 'decide what can be saved'}`,
            );
          }
        const failures = b.mesh.facts.findings.filter(
          (f) => f.severity === 'failure' && !b.dismissals.some((d) => d.code === f.code),
        );
        if (failures.length > 0)
          attention.push(`${b.name}: ${failures.length} ${failures.length === 1 ? 'finding' : 'findings'} to mend`);
      }
      out.push({
        id: row.id,
        name: row.name,
        note: row.note,
        updatedAt: row.updatedAt,
        models: bodies.map((b) => ({
          id: b.id,
          name: b.name,
          meshHash: b.mesh.hash,
          sizeMm: b.mesh.facts.size,
          stage: b.line[b.cursor - 1]?.operation ?? 'import',
        })),
        parts: allParts.length,
        printed: allParts.filter((p) => p.state === 'printed').length,
        attention,
      });
    }
    return out;
  }

  async removeProject(id: string): Promise<void> {
    const { modelIds } = await this.project(id);
    for (const model of modelIds) await this.removeModel(model);
    await this.db.delete(projects).where(eq(projects.id, id));
    await this.collect();
  }

  async removeModel(id: string): Promise<void> {
    const body = await this.body(id);
    if (body.kind !== 'model')
      throw new ApiError(400, 'cannot', 'A part goes away with its divide step.', 'Undo the divide instead.');
    const list = await this.db.select({ id: parts.id }).from(parts).where(eq(parts.modelId, id));
    const bodies = [id, ...list.map((p) => p.id)];
    await this.commit([
      this.db.delete(lineStates).where(inArray(lineStates.bodyId, bodies)),
      this.db.delete(dismissals).where(inArray(dismissals.bodyId, bodies)),
      this.db.delete(references).where(eq(references.modelId, id)),
      this.db.delete(parts).where(eq(parts.modelId, id)),
      this.db.delete(models).where(eq(models.id, id)),
    ]);
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
      line: stepIds.map((s) => stepView(byId.get(s)!)),
    };
  }

  /** Hash of the mesh after the first `count` steps; a divide leaves the whole as it was. */
  meshAfter(body: Body, count: number): string {
    for (let i = count - 1; i >= 0; i--) {
      const step = body.line[i];
      if (step.operation !== 'divide' && step.outputs.length > 0) return step.outputs[0];
    }
    if (body.part) return body.part.meshHash;
    throw new ApiError(409, 'no-mesh', 'This model has no mesh yet.', 'Import one.');
  }

  async mesh(hash: string): Promise<MeshView> {
    const [row] = await this.db.select().from(meshes).where(eq(meshes.hash, hash));
    if (!row) throw ApiError.notFound('mesh', hash);
    return meshView(row);
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
    const divided = body.line.slice(0, body.cursor).findLast((s) => s.operation === 'divide');
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
      parts: divided && body.kind === 'model' ? await this.partViews(body.model.id, divided.id) : [],
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

  private async partViews(modelId: string, stepIdOfDivide: string): Promise<PartView[]> {
    const rows = await this.db
      .select()
      .from(parts)
      .where(and(eq(parts.modelId, modelId), eq(parts.stepId, stepIdOfDivide)))
      .orderBy(asc(parts.position));
    return Promise.all(
      rows.map(async (row) => {
        const body = await this.body(row.id);
        return {
          id: row.id,
          modelId,
          tag: row.tag,
          meshHash: row.meshHash,
          state: row.state,
          failedAtMm: row.failedAtMm,
          line: body.line,
          cursor: body.cursor,
          mesh: await this.mesh(this.meshAfter(body, body.cursor)),
        };
      }),
    );
  }

  /** Makes all changes or none. */
  async commit(statements: Statement[]): Promise<void> {
    const [first, ...rest] = statements;
    if (first) await this.db.batch([first, ...rest]);
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
        .onConflictDoNothing(),
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
    return report.parts.flatMap((part, position) => {
      const id = randomUUID();
      return [
        this.db
          .insert(parts)
          .values({ id, modelId, stepId: step.id, position, tag: part.tag, meshHash: step.outputs[position] }),
        this.db.insert(lineStates).values({ bodyId: id, seq: 1, stepIds: [], cursor: 0 }),
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
    if (body.kind === 'model') await this.db.update(models).set({ seq }).where(eq(models.id, body.id));
    else await this.db.update(parts).set({ seq }).where(eq(parts.id, body.id));
    await this.touchStatement(body.projectId);
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
    await this.commit(this.lineStatements(body, body.stepIds, cursor));
  }

  async setPartState(id: string, state: PartRow['state'], failedAtMm: number | null): Promise<void> {
    await this.db.update(parts).set({ state, failedAtMm }).where(eq(parts.id, id));
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

  /** Removes meshes, sources and steps that no line can come back to. Returns how many files went. */
  async collect(): Promise<number> {
    const states = await this.db.select({ stepIds: lineStates.stepIds }).from(lineStates);
    const live = new Set(states.flatMap((s) => s.stepIds));
    for (const p of await this.db.select({ stepId: parts.stepId }).from(parts)) live.add(p.stepId);
    const all = await this.db
      .select({ id: steps.id, outputs: steps.outputs, inputs: steps.inputs, createdAt: steps.createdAt })
      .from(steps);
    // previews that no line took are kept for a week
    const fresh = new Date(Date.now() - 7 * 86_400_000).toISOString();
    const dead = all.filter((s) => !live.has(s.id) && s.createdAt < fresh).map((s) => s.id);
    const deadSet = new Set(dead);
    const usedMeshes = new Set<string>();
    for (const r of await this.db.select({ hash: references.meshHash }).from(references)) usedMeshes.add(r.hash);
    const usedSources = new Set<string>();
    for (const s of all) {
      if (deadSet.has(s.id)) continue;
      s.outputs.forEach((h) => usedMeshes.add(h));
      s.inputs.forEach((h) => (h.startsWith('source:') ? usedSources.add(h.slice(7)) : usedMeshes.add(h)));
    }
    for (let i = 0; i < dead.length; i += 500)
      await this.db.delete(steps).where(inArray(steps.id, dead.slice(i, i + 500)));
    const known = await this.db.select({ hash: meshes.hash }).from(meshes);
    const unused = known.map((m) => m.hash).filter((h) => !usedMeshes.has(h));
    for (let i = 0; i < unused.length; i += 500)
      await this.db.delete(meshes).where(inArray(meshes.hash, unused.slice(i, i + 500)));
    const pending = await this.db
      .select({ n: sql<number>`count(*)` })
      .from(jobs)
      .where(inArray(jobs.state, ['queued', 'running']));
    // files of a job still at work are not in the tables yet
    if (pending[0].n > 0) return 0;
    let gone = 0;
    for (const name of await this.blobs.list('meshes'))
      if (!usedMeshes.has(name)) gone += (await this.blobs.remove('meshes', name), 1);
    for (const name of await this.blobs.list('sources'))
      if (!usedSources.has(name)) gone += (await this.blobs.remove('sources', name), 1);
    for (const name of await this.blobs.list('display'))
      if (!usedMeshes.has(name.split('-')[0])) gone += (await this.blobs.remove('display', name), 1);
    return gone;
  }
}
