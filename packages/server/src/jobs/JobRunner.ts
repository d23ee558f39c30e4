import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { StepView } from '@jasmorphe/contracts/steps';
import type { JobView } from '@jasmorphe/contracts/views';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { ApiError, errorBody } from '../http/ApiError.ts';
import type { EventHub } from '../http/EventHub.ts';
import type { Body, Library, Relied } from '../store/Library.ts';
import { jobs } from '../store/schema.ts';
import { canonicalJson, stepId } from '../store/stepId.ts';
import type {
  ImportPayload,
  LinePayload,
  Planned,
  PreviewPayload,
  ReferencePayload,
  SamplePayload,
} from './jobPayloads.ts';
import { JobWork, type Outcome } from './JobWork.ts';
import { StepRunner, type ActiveJob } from './StepRunner.ts';
import type { WorkerPool } from './WorkerPool.ts';

type JobRow = typeof jobs.$inferSelect;

const now = (): string => new Date().toISOString();

/** A job that was running at as many ends of the process is given up. */
const mostAttempts = 3;

/** What a job is called while it runs. */
const titleOf = (name: OperationName): string => descriptionOf(name).words.title;

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
  private readonly active = new Map<string, ActiveJob>();
  /** ends of jobs that the database would not take yet; they hold whatever it says of them */
  private readonly unwritten = new Map<string, Partial<JobRow>>();
  private readonly work: JobWork;
  private starting: Promise<void> = Promise.resolve();
  private closed = false;

  constructor(
    private readonly library: Library,
    private readonly pool: WorkerPool,
    private readonly events: EventHub,
  ) {
    this.work = new JobWork(library, new StepRunner(library, pool));
  }

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
    const rows = await this.library.db.select().from(jobs).orderBy(desc(jobs.createdAt)).limit(100);
    return rows.map((row) => jobView({ ...row, ...this.unwritten.get(row.id) }));
  }

  async get(id: string): Promise<JobView> {
    const [row] = await this.library.db.select().from(jobs).where(eq(jobs.id, id));
    if (!row) throw ApiError.notFound('job', id);
    return jobView({ ...row, ...this.unwritten.get(id) });
  }

  /** Ends a job that waits or runs; one that nobody runs any more is settled on the spot. */
  async cancel(id: string): Promise<JobView> {
    await this.get(id);
    const active = this.active.get(id);
    if (active) {
      active.cancelled = true;
      active.handle?.cancel();
      return this.get(id);
    }
    await this.library.commit('cancel', [
      this.library.db
        .update(jobs)
        .set({ state: 'cancelled', endedAt: now(), phase: 'Cancelled' })
        .where(and(eq(jobs.id, id), inArray(jobs.state, ['queued', 'running']))),
    ]);
    // it may have been started while the database was waited for
    const begun = this.active.get(id);
    if (begun) {
      begun.cancelled = true;
      begun.handle?.cancel();
    }
    const [row] = await this.library.db.select().from(jobs).where(eq(jobs.id, id));
    if (row?.kind === 'line') await this.tellFree(row).catch(() => undefined);
    return this.announce(id);
  }

  /** Ends the jobs of a project, or of one body and its parts, and waits until they have ended. */
  async endJobsOf(which: { projectId: string } | { bodyIds: string[] }): Promise<void> {
    const own = 'projectId' in which ? eq(jobs.projectId, which.projectId) : inArray(jobs.bodyId, which.bodyIds);
    const open = await this.library.db
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(own, inArray(jobs.state, ['queued', 'running'])));
    await Promise.all(
      open.map(async ({ id }) => {
        await this.cancel(id);
        await this.active.get(id)?.ended;
      }),
    );
  }

  /** Ends the project's jobs, then removes it with all that belongs to it. */
  async removeProject(id: string): Promise<void> {
    await this.endJobsOf({ projectId: id });
    await this.library.removeProject(id);
    // a job that came in between has lost its project: it would find nothing to put its work into
    for (const job of this.active.values())
      if (job.projectId === id) {
        job.cancelled = true;
        job.handle?.cancel();
      }
  }

  /** Ends the jobs of a model and its parts, then removes it. */
  async removeModel(id: string): Promise<void> {
    const { parts } = await this.library.bodyView(id);
    await this.endJobsOf({ bodyIds: [id, ...parts.map((p) => p.id)] });
    await this.library.removeModel(id);
  }

  /** A new import. Two imports of the same file are two models over one mesh. */
  addImport(payload: ImportPayload): Promise<JobView> {
    return this.add('import', `Import ${payload.fileName}`, payload.projectId, null, payload, {
      sources: [payload.sourceHash],
    });
  }

  /** Adds an operation to a line, in place of steps beyond the cursor; `dry` only works it out. */
  async addStep(body: Body, planned: Planned, dry = false): Promise<JobView> {
    const payload = { bodyId: body.id, from: body.cursor, planned: [planned] };
    return this.addLine(body, payload, titleOf(planned.operation), dry);
  }

  /** Changes a step's params and replays what follows it, up to the cursor; `dry` only works it out. */
  async editStep(body: Body, index: number, params: Record<string, unknown>, dry = false): Promise<JobView> {
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
      dry,
    );
  }

  private async addLine(body: Body, payload: LinePayload, title: string, dry: boolean): Promise<JobView> {
    for (const p of payload.planned) parseParams(descriptionOf(p.operation).params, p.params);
    if (dry) return this.add('replay', `Work out: ${title.toLowerCase()}`, body.projectId, body.id, payload);
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

  /**
   * Works an operation out without adding it. A step that is known answers at once.
   *
   * @param after on the mesh after so many steps of the line
   * @param ifKnown asks for no work: null where it was never worked out
   */
  async addPreview(body: Body, planned: Planned, after: number, ifKnown: boolean): Promise<JobView | StepView | null> {
    const operation = descriptionOf(planned.operation);
    const params = parseParams(operation.params, planned.params);
    if (after > body.line.length || (body.kind === 'model' && after < 1))
      throw new ApiError(400, 'bad-params', `The line has ${body.line.length} steps, not ${after}.`, '', 'after');
    const inputs = [this.library.meshAfter(body, after), ...(operation.companions?.(params) ?? [])];
    for (const hash of inputs) await this.library.mesh(hash);
    const id = stepId(operation.name, operation.version, params, inputs);
    const known = await this.library.knownStep(id);
    if (known) return known.step as StepView;
    if (ifKnown) return null;
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
    parseParams(catalogue.sample.params, params);
    const payload: SamplePayload = { bodyId: body.id, input: this.library.meshAfter(body, body.cursor), params };
    return this.add('sample', 'Test piece', body.projectId, body.id, payload);
  }

  /** Adds a body to size a model by. */
  async addReference(body: Body, payload: Omit<ReferencePayload, 'modelId'>): Promise<JobView> {
    if (body.kind !== 'model')
      throw new ApiError(400, 'cannot', 'A part is not sized by a body.', 'Add the body to the whole model.');
    if ('kind' in payload.made) parseParams(catalogue.reference.params, payload.made);
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
    relied: Relied = {},
  ): Promise<JobView> {
    const id = randomUUID();
    await this.library.commit(
      'job',
      [
        this.library.db
          .insert(jobs)
          .values({ id, kind, title, projectId, bodyId, payload, state: 'queued', phase: 'Waiting', createdAt: now() }),
      ],
      { projects: [projectId], bodies: bodyId ? [bodyId] : [], ...relied },
    );
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
        const able = waiting.filter((j) => !this.unwritten.has(j.id) && !this.active.has(j.id));
        const job = able.find((j) => j.kind !== 'preview') ?? able[0];
        if (!job) return;
        let end: () => void = () => undefined;
        const active: ActiveJob = {
          projectId: job.projectId,
          handle: null,
          cancelled: false,
          ended: new Promise<void>((resolve) => (end = resolve)),
        };
        this.active.set(job.id, active);
        void this.execute(job, active).finally(end);
      }
    });
    this.starting = this.starting.catch((error: unknown) => console.error('The job queue stumbled:', error));
  }

  private async execute(job: JobRow, active: ActiveJob): Promise<void> {
    const { db } = this.library;
    const attempts = job.attempts + 1;
    let said: Outcome['events'] = [];
    try {
      // how often it was begun must be on record before it may take the process down
      await this.library.commit('begin', [
        db
          .update(jobs)
          .set({ state: 'running', startedAt: now(), heartbeatAt: now(), attempts, phase: 'Beginning' })
          .where(and(eq(jobs.id, job.id), eq(jobs.state, 'queued'))),
      ]);
      const [row] = await db.select({ state: jobs.state }).from(jobs).where(eq(jobs.id, job.id));
      if (row?.state !== 'running') return;
      await this.announce(job.id).catch(() => undefined);
      const { statements, relied, result, events } = await this.outcomeOf(job, active);
      // what was made and the word that it is done enter together, so that neither is ever there alone
      await this.library.commit(
        job.kind,
        [
          ...statements,
          db
            .update(jobs)
            .set({ state: 'done', progress: 1, phase: 'Done', endedAt: now(), result, error: null })
            .where(eq(jobs.id, job.id)),
        ],
        relied,
      );
      said = events;
    } catch (error) {
      if (this.closed) return;
      const cancelled = active.cancelled || (isMeshError(error) && error.code === 'cancelled');
      const { status, body } = errorBody(error);
      if (!cancelled && status >= 500) console.error(`Job ${job.id} (${job.title}) failed:`, error);
      await this.settle(job.id, {
        state: cancelled ? 'cancelled' : 'failed',
        endedAt: now(),
        phase: cancelled ? 'Cancelled' : 'Failed',
        error: cancelled ? null : body.error,
      });
    } finally {
      this.active.delete(job.id);
      if (!this.closed) {
        for (const event of said) this.events.send(event);
        // however it ended, its body is free again
        if (job.kind === 'line' && said.length === 0) await this.tellFree(job).catch(() => undefined);
        await this.announce(job.id).catch(() => undefined);
        this.pump();
      }
    }
  }

  private async tellFree(job: JobRow): Promise<void> {
    const { id, model, projectId } = await this.library.body(job.bodyId!);
    for (const bodyId of new Set([id, model.id])) this.events.send({ type: 'body', bodyId, projectId });
  }

  private outcomeOf(job: JobRow, active: ActiveJob): Promise<Outcome> {
    const progress = this.report(job);
    switch (job.kind) {
      case 'import':
        return this.work.import(active, job.payload as ImportPayload, job.createdAt, progress);
      case 'line':
        return this.work.line(active, job.payload as LinePayload, progress, false);
      case 'replay':
        return this.work.line(active, job.payload as LinePayload, progress, true);
      case 'sample':
        return this.work.sample(active, job.payload as SamplePayload, progress);
      case 'reference':
        return this.work.reference(active, job.payload as ReferencePayload, progress);
      case 'preview':
        return this.work.preview(active, job.payload as PreviewPayload, progress);
    }
  }

  /**
   * Writes how a job ended. While the database does not take it, the end is told from memory and written again and
   * again, so that no job is ever "running" without anybody who runs it.
   */
  private async settle(id: string, end: Partial<JobRow>): Promise<void> {
    const write = () => this.library.commit('end', [this.library.db.update(jobs).set(end).where(eq(jobs.id, id))]);
    try {
      await write();
    } catch (error) {
      console.error(`The end of job ${id} could not be written yet:`, error);
      this.unwritten.set(id, end);
      void (async () => {
        for (let pause = 500; !this.closed; pause = Math.min(2 * pause, 15_000)) {
          await new Promise((resolve) => setTimeout(resolve, pause).unref());
          try {
            await write();
            break;
          } catch {
            // not yet
          }
        }
        this.unwritten.delete(id);
      })();
    }
  }

  private report(job: JobRow): (fraction: number, phase: string) => void {
    let savedAt = Date.now();
    const startedAt = now();
    return (progress, phase) => {
      this.events.send({ type: 'job', job: { ...jobView(job), state: 'running', startedAt, progress, phase } });
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

  /** Resolves when no job is running or waiting. */
  async idle(): Promise<void> {
    for (;;) {
      await this.starting;
      const left = await this.library.db
        .select({ id: jobs.id })
        .from(jobs)
        .where(inArray(jobs.state, ['queued', 'running']))
        .limit(1 + this.unwritten.size);
      if (left.every((j) => this.unwritten.has(j.id)) && this.active.size === 0) return;
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
  }

  /** Resolves when nothing that was begun is still at work, after `close`. */
  async quiet(): Promise<void> {
    await this.starting;
    await Promise.all([...this.active.values()].map((job) => job.ended));
  }

  /** Stops taking jobs. Those that run stay marked as running and begin again at the next start. */
  close(): void {
    this.closed = true;
    for (const { handle } of this.active.values()) handle?.cancel();
  }
}
