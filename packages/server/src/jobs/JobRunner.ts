import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { isMeshError, MeshError } from '@jasmorphe/core/mesh/MeshError';
import { parseParams } from '@jasmorphe/core/operations/Operation';
import { operationOf, type OperationName } from '@jasmorphe/core/operations/registry';
import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/clearance';
import type { ReferenceReport } from '@jasmorphe/core/operations/reference/reference';
import type { SampleReport } from '@jasmorphe/core/operations/sample/sample';
import type { ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';
import type { JobView, StepView } from '@jasmorphe/contracts/views';
import { ApiError, errorBody } from '../http/ApiError.ts';
import type { EventHub } from '../http/EventHub.ts';
import type { BlobStore } from '../store/BlobStore.ts';
import type { Body, Library, Statement } from '../store/Library.ts';
import { jobs, references } from '../store/schema.ts';
import { canonicalJson, stepId } from '../store/stepId.ts';
import type { StoredMesh } from './worker.ts';
import type { RunHandle, WorkerPool } from './WorkerPool.ts';

interface ImportPayload {
  projectId: string;
  sourceHash: string;
  fileName: string;
  licence: string;
  params: Record<string, unknown>;
}

interface Planned {
  operation: OperationName;
  params: Record<string, unknown>;
}

interface LinePayload {
  bodyId: string;
  /** steps before this one stay; the planned ones follow */
  from: number;
  planned: Planned[];
}

interface PreviewPayload extends Planned {
  bodyId: string;
  inputs: string[];
}

interface SamplePayload {
  bodyId: string;
  input: string;
  params: Record<string, unknown>;
}

interface ReferencePayload {
  modelId: string;
  name: string;
  /** a kind of body with its measures, or the source of a scan */
  made:
    { kind: ReferenceKind; measures: Record<string, number> } | { sourceHash: string; fileName: string; unit: string };
}

type JobRow = typeof jobs.$inferSelect;

const now = (): string => new Date().toISOString();

/** A job that was running at as many ends of the process is given up. */
const mostAttempts = 3;

/** What a job is called while it runs. */
const titleOf = (name: OperationName): string =>
  name === 'scan' ? 'Stand-in scan' : name.charAt(0).toUpperCase() + name.slice(1);

export const jobView = (row: JobRow): JobView => ({
  id: row.id,
  kind: row.kind,
  title: row.title,
  projectId: row.projectId,
  bodyId: row.bodyId,
  state: row.state,
  progress: row.progress,
  phase: row.phase,
  error: row.error as JobView['error'],
  result: row.result as JobView['result'],
  createdAt: row.createdAt,
  startedAt: row.startedAt,
  endedAt: row.endedAt,
});

/**
 * Runs jobs from the table, oldest first, as many at once as there are threads. What a job makes enters the database
 * in one batch at its end, so a job that is cancelled, fails or dies leaves nothing behind.
 */
export class JobRunner {
  private readonly active = new Map<string, { handle: RunHandle | null; cancelled: boolean }>();
  /** runs under way by step, so that the same step is never worked out twice at once */
  private readonly underWay = new Map<string, Promise<{ step: Omit<StepView, 'createdAt'>; outputs: StoredMesh[] }>>();
  private starting: Promise<void> = Promise.resolve();
  private closed = false;

  constructor(
    private readonly library: Library,
    private readonly blobs: BlobStore,
    private readonly pool: WorkerPool,
    private readonly events: EventHub,
  ) {}

  /** Puts jobs that were running when the process died back in the queue, and begins. */
  async start(): Promise<void> {
    const { db } = this.library;
    const cut = await db.select().from(jobs).where(eq(jobs.state, 'running'));
    for (const job of cut)
      if (job.attempts >= mostAttempts)
        await db
          .update(jobs)
          .set({
            state: 'failed',
            endedAt: now(),
            error: {
              code: 'gave-up',
              message: `The server stopped ${job.attempts} times while doing this.`,
              hint: 'The mesh may need more memory than there is. Simplify it first.',
            },
          })
          .where(eq(jobs.id, job.id));
      else
        await db
          .update(jobs)
          .set({ state: 'queued', progress: 0, phase: 'Waiting to begin again' })
          .where(eq(jobs.id, job.id));
    this.pump();
  }

  async list(): Promise<JobView[]> {
    return (await this.library.db.select().from(jobs).orderBy(desc(jobs.createdAt)).limit(100)).map(jobView);
  }

  async get(id: string): Promise<JobView> {
    const [row] = await this.library.db.select().from(jobs).where(eq(jobs.id, id));
    if (!row) throw ApiError.notFound('job', id);
    return jobView(row);
  }

  async cancel(id: string): Promise<JobView> {
    const job = await this.get(id);
    if (job.state === 'queued') {
      const result = await this.library.db
        .update(jobs)
        .set({ state: 'cancelled', endedAt: now(), phase: 'Cancelled' })
        .where(and(eq(jobs.id, id), eq(jobs.state, 'queued')));
      if (result.rowsAffected > 0) return this.announce(id);
    }
    const active = this.active.get(id);
    if (active) {
      active.cancelled = true;
      active.handle?.cancel();
    }
    return this.get(id);
  }

  /** A new import. Two imports of the same file are two models over one mesh. */
  addImport(payload: ImportPayload): Promise<JobView> {
    return this.add('import', `Import ${payload.fileName}`, payload.projectId, null, payload);
  }

  /** Adds an operation to a line, in place of steps beyond the cursor. */
  async addStep(body: Body, planned: Planned): Promise<JobView> {
    return this.addLine(body, { bodyId: body.id, from: body.cursor, planned: [planned] }, titleOf(planned.operation));
  }

  /** Changes a step's params and replays what follows it, up to the cursor. */
  async editStep(body: Body, index: number, params: Record<string, unknown>): Promise<JobView> {
    const step = body.line[index];
    if (!step)
      throw new ApiError(
        404,
        'not-found',
        `There is no such step: the line has ${body.line.length}, counted from 0.`,
        'Reload the page.',
      );
    const later = body.line.slice(index + 1, Math.max(body.cursor, index + 1));
    const planned = [
      { operation: step.operation, params },
      ...later.map((s) => ({ operation: s.operation, params: s.params })),
    ];
    return this.addLine(
      body,
      { bodyId: body.id, from: index, planned },
      `${titleOf(step.operation)}, and replay ${later.length}`,
    );
  }

  private async addLine(body: Body, payload: LinePayload, title: string): Promise<JobView> {
    for (const p of payload.planned) parseParams(operationOf(p.operation).params, p.params);
    const waiting = await this.library.db
      .select()
      .from(jobs)
      .where(and(eq(jobs.bodyId, body.id), eq(jobs.kind, 'line'), inArray(jobs.state, ['queued', 'running'])));
    if (waiting.length > 0) {
      // a second click on the same button is the same wish
      if (canonicalJson(waiting[0].payload) === canonicalJson(payload)) return jobView(waiting[0]);
      throw new ApiError(
        409,
        'busy',
        `"${waiting[0].title}" is still at work on this line.`,
        'Wait for it, or cancel it.',
      );
    }
    return this.add('line', title, body.projectId, body.id, payload);
  }

  /** Works an operation out without adding it. A step that is known answers at once. */
  async addPreview(body: Body, planned: Planned): Promise<JobView | StepView> {
    const operation = operationOf(planned.operation);
    const params = parseParams(operation.params, planned.params);
    const inputs = [this.library.meshAfter(body, body.cursor), ...(operation.companions?.(params) ?? [])];
    for (const hash of inputs) await this.library.mesh(hash);
    const id = stepId(operation.name, operation.version, params as Record<string, unknown>, inputs);
    const known = await this.library.step(id);
    if (known) return known;
    const payload: PreviewPayload = { bodyId: body.id, inputs, ...planned };
    const waiting = await this.library.db
      .select()
      .from(jobs)
      .where(and(eq(jobs.bodyId, body.id), eq(jobs.kind, 'preview'), inArray(jobs.state, ['queued', 'running'])));
    const same = waiting.find((job) => canonicalJson(job.payload) === canonicalJson(payload));
    return same
      ? jobView(same)
      : this.add('preview', `Work out ${titleOf(planned.operation).toLowerCase()}`, body.projectId, body.id, payload);
  }

  /** Makes a test piece of a body as it stands, as a model of its own. */
  async addSample(body: Body, params: Record<string, unknown>): Promise<JobView> {
    parseParams(operationOf('sample').params, params);
    const payload: SamplePayload = { bodyId: body.id, input: this.library.meshAfter(body, body.cursor), params };
    return this.add('sample', 'Test piece', body.projectId, body.id, payload);
  }

  /** Adds a body to size a model by. */
  async addReference(body: Body, payload: Omit<ReferencePayload, 'modelId'>): Promise<JobView> {
    if (body.kind !== 'model')
      throw new ApiError(400, 'cannot', 'A part is not sized by a body.', 'Add the body to the whole model.');
    if ('kind' in payload.made) parseParams(operationOf('reference').params, payload.made);
    return this.add('reference', `Reference body: ${payload.name}`, body.projectId, body.id, {
      modelId: body.id,
      ...payload,
    });
  }

  private async add(
    kind: JobRow['kind'],
    title: string,
    projectId: string,
    bodyId: string | null,
    payload: object,
  ): Promise<JobView> {
    const id = randomUUID();
    await this.library.db
      .insert(jobs)
      .values({ id, kind, title, projectId, bodyId, payload, state: 'queued', phase: 'Waiting', createdAt: now() });
    const view = await this.announce(id);
    this.pump();
    return view;
  }

  private async announce(id: string): Promise<JobView> {
    const job = await this.get(id);
    this.events.send({ type: 'job', job });
    return job;
  }

  /** Starts waiting jobs while threads are free. Calls are strung together, so no job starts twice. */
  private pump(): void {
    this.starting = this.starting.then(async () => {
      while (!this.closed && this.active.size < this.pool.threads) {
        // what a maker waits for comes before what is only worked out in advance
        const waiting = await this.library.db
          .select()
          .from(jobs)
          .where(eq(jobs.state, 'queued'))
          .orderBy(asc(jobs.createdAt))
          .limit(200);
        const job = waiting.find((j) => j.kind !== 'preview') ?? waiting[0];
        if (!job) return;
        this.active.set(job.id, { handle: null, cancelled: false });
        await this.library.db
          .update(jobs)
          .set({
            state: 'running',
            startedAt: now(),
            heartbeatAt: now(),
            attempts: job.attempts + 1,
            phase: 'Beginning',
          })
          .where(eq(jobs.id, job.id));
        void this.execute(job);
      }
    });
    this.starting = this.starting.catch((error: unknown) => console.error('The job queue stumbled:', error));
  }

  private async execute(job: JobRow): Promise<void> {
    const { db } = this.library;
    await this.announce(job.id).catch(() => undefined);
    try {
      const result =
        job.kind === 'import'
          ? await this.doImport(job)
          : job.kind === 'line'
            ? await this.doLine(job)
            : job.kind === 'sample'
              ? await this.doSample(job)
              : job.kind === 'reference'
                ? await this.doReference(job)
                : await this.doPreview(job);
      await db
        .update(jobs)
        .set({ state: 'done', progress: 1, phase: 'Done', endedAt: now(), result })
        .where(eq(jobs.id, job.id));
    } catch (error) {
      if (this.closed) return;
      const cancelled = this.active.get(job.id)?.cancelled || (isMeshError(error) && error.code === 'cancelled');
      const { status, body } = errorBody(error);
      if (!cancelled && status === 500) console.error(`Job ${job.id} (${job.title}) failed:`, error);
      await db
        .update(jobs)
        .set({
          state: cancelled ? 'cancelled' : 'failed',
          endedAt: now(),
          phase: cancelled ? 'Cancelled' : 'Failed',
          error: cancelled ? null : body.error,
        })
        .where(eq(jobs.id, job.id))
        .catch((e: unknown) => console.error(e));
    } finally {
      this.active.delete(job.id);
      if (!this.closed) {
        await this.announce(job.id).catch(() => undefined);
        this.pump();
      }
    }
  }

  private report(job: JobRow, from: number, to: number): (fraction: number, phase: string) => void {
    let savedAt = Date.now();
    return (fraction, phase) => {
      const progress = from + (to - from) * fraction;
      this.events.send({
        type: 'job',
        job: { ...jobView(job), state: 'running', startedAt: job.startedAt ?? now(), progress, phase },
      });
      if (Date.now() - savedAt > 1500) {
        savedAt = Date.now();
        void this.library.db
          .update(jobs)
          .set({ progress, phase, heartbeatAt: now() })
          .where(and(eq(jobs.id, job.id), eq(jobs.state, 'running')))
          .catch(() => undefined);
      }
    };
  }

  /** The step for these params and inputs: from the table, from a run under way, or by running it. */
  private async runStep(
    job: JobRow,
    planned: Planned,
    inputs: string[],
    source: { path: string; name: string } | undefined,
    progress: (fraction: number, phase: string) => void,
  ): Promise<{ step: Omit<StepView, 'createdAt'>; outputs: StoredMesh[] }> {
    const active = this.active.get(job.id);
    if (active?.cancelled) throw new MeshError('cancelled', 'Cancelled before it was done.');
    const operation = operationOf(planned.operation);
    const params = parseParams(operation.params, planned.params) as Record<string, unknown>;
    const id = stepId(operation.name, operation.version, params, inputs);
    const known = await this.library.step(id);
    if (known) return { step: known, outputs: [] };
    const shared = this.underWay.get(id);
    if (shared) {
      try {
        return await shared;
      } catch (error) {
        // if the other one was cancelled, this one still wants it
        if (!isMeshError(error) || error.code !== 'cancelled' || active?.cancelled) throw error;
      }
    }
    const handle = this.pool.run(
      { operation: planned.operation, params: { ...params }, inputs: source ? [] : inputs, source },
      progress,
    );
    if (active) {
      active.handle = handle;
      if (active.cancelled) handle.cancel();
    }
    const promise = handle.result.then((result) => ({
      step: {
        id,
        operation: planned.operation,
        version: operation.version,
        params: { ...params },
        inputs,
        outputs: result.outputs.map((o) => o.hash),
        report: result.report,
        elapsedMs: result.elapsedMs,
      },
      outputs: result.outputs,
    }));
    this.underWay.set(id, promise);
    try {
      return await promise;
    } finally {
      this.underWay.delete(id);
    }
  }

  private async doImport(job: JobRow): Promise<object> {
    const payload = job.payload as ImportPayload;
    await this.library.projectRow(payload.projectId);
    const source = { path: this.blobs.path('sources', payload.sourceHash), name: payload.fileName };
    const { step, outputs } = await this.runStep(
      job,
      { operation: 'import', params: payload.params },
      [`source:${payload.sourceHash}`],
      source,
      this.report(job, 0, 1),
    );
    const bodyId = randomUUID();
    const model = {
      id: bodyId,
      projectId: payload.projectId,
      name: payload.fileName.replace(/\.[^.]+$/, '') || payload.fileName,
      sourceName: payload.fileName,
      sourceHash: payload.sourceHash,
      licence: payload.licence,
      createdAt: now(),
    };
    await this.library.projectRow(payload.projectId);
    await this.library.commit([
      ...this.library.stepStatements(step, outputs),
      ...this.library.modelStatements(model, [step.id]),
    ]);
    this.events.send({ type: 'project', projectId: payload.projectId });
    return { bodyId, stepId: step.id };
  }

  private async doPreview(job: JobRow): Promise<object> {
    const payload = job.payload as PreviewPayload;
    const { step, outputs } = await this.runStep(job, payload, payload.inputs, undefined, this.report(job, 0, 1));
    await this.library.commit(this.library.stepStatements(step, outputs));
    return { bodyId: payload.bodyId, stepId: step.id };
  }

  /** A test piece is a model of its own, whose line begins where it was cut from. */
  private async doSample(job: JobRow): Promise<object> {
    const payload = job.payload as SamplePayload;
    const planned = { operation: 'sample' as const, params: payload.params };
    const { step, outputs } = await this.runStep(job, planned, [payload.input], undefined, this.report(job, 0, 1));
    const { model, projectId } = await this.library.body(payload.bodyId);
    const id = randomUUID();
    const { kind } = step.report as SampleReport;
    await this.library.commit([
      ...this.library.stepStatements(step, outputs),
      ...this.library.modelStatements(
        {
          id,
          projectId,
          name: `${kind === 'small' ? 'Small test' : 'Test region'} of ${model.name}`.slice(0, 120),
          sourceName: model.sourceName,
          sourceHash: model.sourceHash,
          licence: model.licence,
          createdAt: now(),
        },
        [step.id],
      ),
    ]);
    this.events.send({ type: 'project', projectId });
    return { bodyId: id, stepId: step.id };
  }

  private async doReference(job: JobRow): Promise<object> {
    const { modelId, name, made } = job.payload as ReferencePayload;
    const progress = this.report(job, 0, 1);
    const { step, outputs } =
      'kind' in made
        ? await this.runStep(job, { operation: 'reference', params: { ...made } }, [], undefined, progress)
        : await this.runStep(
            job,
            { operation: 'import', params: { unit: made.unit } },
            [`source:${made.sourceHash}`],
            { path: this.blobs.path('sources', made.sourceHash), name: made.fileName },
            progress,
          );
    const body = await this.library.body(modelId);
    const { projectId } = body;
    const { min, max } = (await this.library.mesh(this.library.meshAfter(body, body.cursor))).facts;
    const report = 'kind' in made ? (step.report as ReferenceReport) : null;
    const [facts] =
      outputs.length > 0 ? outputs.map((o) => o.facts) : [(await this.library.mesh(step.outputs[0])).facts];
    // its middle in the middle of the model, until it is placed
    const middle = (k: 'x' | 'y' | 'z') => (min[k] + max[k]) / 2 - (facts.min[k] + facts.max[k]) / 2;
    await this.library.commit(this.library.stepStatements(step, outputs));
    const settled = async (): Promise<[number, number, number]> => {
      const middles: [number, number, number] = [middle('x'), middle('y'), middle('z')];
      // what is worn starts where it settles; a figure that stands beside starts in the middle
      if (report && report.kind !== 'head') return middles;
      const params = report
        ? { kind: report.kind, measures: report.measures, seat: true }
        : { scan: step.outputs[0], seat: true };
      const inputs = [this.library.meshAfter(body, body.cursor), ...(report ? [] : [step.outputs[0]])];
      try {
        const study = await this.runStep(job, { operation: 'clearance', params }, inputs, undefined, progress);
        const { move } = study.step.report as ClearanceReport;
        return [move.x, move.y, move.z];
      } catch (error) {
        if (isMeshError(error) && error.code === 'cannot') return middles;
        throw error;
      }
    };
    await this.library.commit([
      this.library.db.insert(references).values({
        id: randomUUID(),
        modelId,
        name,
        kind: report?.kind ?? 'scan',
        measures: report?.measures ?? {},
        landmarks: (report?.landmarks ?? {}) as Record<string, [number, number, number]>,
        meshHash: step.outputs[0],
        move: await settled(),
        turn: [0, 0, 0],
        createdAt: now(),
      }),
    ]);
    this.events.send({ type: 'body', bodyId: modelId, projectId });
    return { bodyId: modelId, stepId: step.id };
  }

  private async doLine(job: JobRow): Promise<object> {
    const payload = job.payload as LinePayload;
    const body = await this.library.body(payload.bodyId);
    const stepIds = body.stepIds.slice(0, payload.from);
    const statements: Statement[] = [];
    let input = payload.from > 0 || body.kind === 'part' ? this.library.meshAfter(body, payload.from) : '';
    let last = '';
    for (let i = 0; i < payload.planned.length; i++) {
      const planned = payload.planned[i];
      const progress = this.report(job, i / payload.planned.length, (i + 1) / payload.planned.length);
      const isImport = planned.operation === 'import';
      // the first step of a test piece is cut from the model that it was made of
      if (body.kind === 'model' && payload.from === 0 && i === 0 && !isImport) input = body.line[0].inputs[0];
      const source = isImport
        ? { path: this.blobs.path('sources', body.model.sourceHash), name: body.model.sourceName }
        : undefined;
      const { step, outputs } = await this.runStep(
        job,
        planned,
        isImport ? [`source:${body.model.sourceHash}`] : [input],
        source,
        progress,
      );
      statements.push(...this.library.stepStatements(step, outputs));
      if (planned.operation === 'divide') statements.push(...(await this.library.partStatements(body.model.id, step)));
      else input = step.outputs[0] ?? input;
      stepIds.push(step.id);
      last = step.id;
    }
    await this.library.commit([
      ...statements,
      ...this.library.lineStatements(body, stepIds, stepIds.length),
      this.library.touchStatement(body.projectId),
    ]);
    this.events.send({ type: 'body', bodyId: body.id, projectId: body.projectId });
    if (body.kind === 'part') this.events.send({ type: 'body', bodyId: body.model.id, projectId: body.projectId });
    return { bodyId: body.id, stepId: last };
  }

  /** Resolves when no job is running or waiting. */
  async idle(): Promise<void> {
    for (;;) {
      await this.starting;
      const left = await this.library.db
        .select({ id: jobs.id })
        .from(jobs)
        .where(inArray(jobs.state, ['queued', 'running']))
        .limit(1);
      if (left.length === 0 && this.active.size === 0) return;
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
  }

  /** Stops taking jobs. Those that run stay marked as running and begin again at the next start. */
  close(): void {
    this.closed = true;
    for (const { handle } of this.active.values()) handle?.cancel();
  }
}
