import { randomUUID } from 'node:crypto';
import { nobodyLooks, type JobView, type ServerEvent } from '@jasmorphe/contracts/views';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { log } from '../log.ts';
import { beatMs, type ComputePort } from '../compute/ComputePort.ts';
import { codecs } from '../store/codecs.ts';
import { errorWords, unforeseen } from '../store/errorWords.ts';
import { jobView, LeaseLost, type JobEnd, type JobRow } from '../store/JobRows.ts';
import type { Teller } from '../store/Teller.ts';
import type { Statement } from '../store/database.ts';
import type { Library } from '../store/Library.ts';
import { checkPayload } from '../store/payloads.ts';
import { troubleOf } from '../store/troubles.ts';
import type { Relied } from '../store/Writer.ts';
import type { Outcome } from './JobKind.ts';
import { jobKindOf } from './kinds/index.ts';
import { isLongPreview, nextJob } from './nextJob.ts';
import { NobodyAtWork, StepRunner, type ActiveJob } from './StepRunner.ts';
import { Watchers } from './Watchers.ts';

const now = (): string => new Date().toISOString();

/** How often a running job's row says how far it is, ms. */
const savedEveryMs = 1500;

/** What is asked for: a kind of job with what it needs to know. */
export interface NewJob {
  kind: JobRow['kind'];
  title: string;
  projectId: string;
  bodyId: string | null;
  /** work that it is part of */
  batchId?: string;
  payload: object;
}

/**
 * Runs jobs from the table, as many at once as there are threads; which begins next is told by `nextJob`. What a job makes enters the database
 * in one batch at its end, so a job that is cancelled, fails or dies leaves nothing behind.
 */
export class JobQueue {
  private readonly active = new Map<string, ActiveJob & { over: AbortController; long: boolean }>();
  /** ends of jobs that the database would not take yet; they hold whatever it says of them */
  private readonly unwritten = new Map<string, JobEnd>();
  private readonly steps: StepRunner;
  private starting: Promise<void> = Promise.resolve();
  private beating: NodeJS.Timeout | undefined;
  private closed = false;
  /** jobs that were at work when it was closed */
  private cutOff: string[] = [];
  /** who looks at what is worked out in advance */
  readonly watchers = new Watchers(async (id) => {
    const { kind, endedAt } = await this.get(id);
    if (kind === 'preview' && endedAt === null) await this.cancel(id, nobodyLooks);
  });
  /** told when the last job of a batch has ended */
  batchEnded: (batchId: string) => Promise<void> = async () => undefined;

  constructor(
    private readonly library: Library,
    private readonly compute: ComputePort,
    private readonly events: Teller,
    /** whose the jobs are that it runs */
    private readonly owner: string,
  ) {
    this.steps = new StepRunner(library.meshes, compute);
  }

  /**
   * Puts jobs back in the queue that run and that nobody is at work on, and begins.
   *
   * @param alone nobody else works on these data: whatever runs was cut off
   */
  async start(alone = true): Promise<void> {
    await this.library.jobs.requeue(alone ? 'all' : 'expired');
    // it begins once more after everything was restored
    clearInterval(this.beating);
    this.beating = setInterval(() => void this.beat(), beatMs).unref();
    this.pump();
  }

  /** Keeps what it runs for itself, and takes up what nobody is at work on any more. */
  private async beat(): Promise<void> {
    try {
      await this.library.jobs.heartbeat([...this.active.keys()], this.owner);
      for (const id of await this.library.jobs.requeue('expired')) if (!this.active.has(id)) await this.announce(id);
      this.pump();
    } catch (error) {
      if (!this.closed) log.error(error, 'Jobs whose owners are gone could not be looked for');
    }
  }

  async list(): Promise<JobView[]> {
    return (await this.library.jobs.newest()).map((row) => this.viewOf(row));
  }

  async get(id: string): Promise<JobView> {
    return this.viewOf(await this.library.jobs.row(id));
  }

  private viewOf(row: JobRow): JobView {
    return jobView({ ...row, ...this.unwritten.get(row.id) });
  }

  /** @throws MeshError `bad-params` when the payload is none of its kind */
  async add(job: NewJob, relied: Relied = {}): Promise<JobView> {
    const { projectId, bodyId } = job;
    const [id] = await this.addAll([job], [], {
      projects: [projectId],
      bodies: bodyId ? [bodyId] : [],
      ...relied,
    });
    return this.get(id);
  }

  /**
   * Adds jobs, and what belongs with them, at once or not at all. They are done in their order.
   *
   * @returns their ids
   * @throws MeshError `bad-params` when a payload is none of its kind
   */
  async addAll(all: readonly NewJob[], beside: readonly Statement[], relied: Relied): Promise<string[]> {
    const start = Date.now();
    const rows = all.map(({ kind, payload, ...rest }, i) => ({
      id: randomUUID(),
      kind,
      ...rest,
      payload: { ...checkPayload(kind, payload) },
      state: 'queued' as const,
      phase: 'Waiting',
      createdAt: new Date(start + i).toISOString(),
    }));
    await this.library.jobs.add(rows, beside, relied);
    for (const { id } of rows) await this.announce(id);
    this.pump();
    return rows.map((r) => r.id);
  }

  /** Says to those that listen that something has changed. */
  tell(event: ServerEvent): void {
    this.events.send(event);
  }

  /** Ends a job that waits or runs; one that nobody runs any more is settled on the spot. @param phase why, in a word or two */
  async cancel(id: string, phase = 'Cancelled'): Promise<JobView> {
    await this.get(id);
    if (this.active.has(id)) {
      this.stop(id, phase);
      return this.get(id);
    }
    await this.library.jobs.cancel(id, phase);
    // it may have been started while the database was waited for
    this.stop(id, phase);
    const row = await this.library.jobs.row(id).catch(() => null);
    if (row) await this.tellFree(row);
    return this.announce(id);
  }

  private stop(id: string, phase = 'Cancelled'): void {
    const job = this.active.get(id);
    if (!job) return;
    job.over.abort(phase);
    job.handle?.cancel();
  }

  /** Ends the jobs of a project, or of one body and its parts, and waits until they have ended. */
  async endJobsOf(which: { projectId: string } | { bodyIds: string[] } | { batchId: string } | 'all'): Promise<void> {
    await Promise.all(
      (await this.library.jobs.open(which)).map(async ({ id }) => {
        await this.cancel(id);
        await this.active.get(id)?.ended;
      }),
    );
  }

  /** Ends the project's jobs, then takes it off the shelf, or removes it for good with all that belongs to it. */
  async removeProject(id: string, forever: boolean): Promise<void> {
    await this.endJobsOf({ projectId: id });
    await (forever ? this.library.projects.remove(id) : this.library.projects.putAway(id));
    // a job that came in between has lost its project: it would find nothing to put its work into
    for (const [jobId, job] of this.active) if (job.projectId === id) this.stop(jobId);
  }

  /** Ends the jobs of a model and its parts, then removes it. */
  async removeModel(id: string): Promise<void> {
    const { parts } = await this.library.views.view(id);
    await this.endJobsOf({ bodyIds: [id, ...parts.map((p) => p.id)] });
    await this.library.bodies.removeModel(id);
  }

  private async announce(id: string): Promise<JobView> {
    const job = await this.get(id);
    if (job.endedAt !== null) this.watchers.forget(id);
    this.events.send({ type: 'job', job });
    return job;
  }

  /** Starts waiting jobs while threads are free. Calls are strung together, so no job starts twice. */
  private pump(): void {
    this.starting = this.starting.then(async () => {
      while (!this.closed && this.active.size <= this.compute.size) {
        const waiting = await this.library.jobs.waiting();
        const able = waiting.filter((j) => !this.unwritten.has(j.id) && !this.active.has(j.id));
        const job = nextJob(able, [...this.active.values()], this.compute.size);
        if (!job) return;
        let end: () => void = () => undefined;
        const over = new AbortController();
        const active = {
          projectId: job.projectId,
          long: isLongPreview(job),
          handle: null,
          over,
          signal: over.signal,
          ended: new Promise<void>((resolve) => (end = resolve)),
        };
        this.active.set(job.id, active);
        void this.execute(job, active).finally(end);
      }
    });
    this.starting = this.starting.catch((error: unknown) => log.error(error, 'The job queue stumbled'));
  }

  private async execute(row: JobRow, job: ActiveJob): Promise<void> {
    let said: Outcome['events'] = [];
    try {
      if (!(await this.library.jobs.begin(row, this.owner))) return;
      await this.announce(row.id).catch(() => undefined);
      const payload = codecs.payload.read(row.payload, row.kind);
      const progress = this.report(row);
      const outcome = await jobKindOf(row.kind).run(
        { library: this.library, steps: this.steps, job, row, progress },
        payload,
      );
      await this.library.jobs.done(row, this.owner, outcome.statements, outcome.result, outcome.relied);
      said = outcome.events;
    } catch (error) {
      // what somebody else does by now, or was cancelled, is theirs to tell
      if (this.closed || error instanceof LeaseLost) return;
      if (error instanceof NobodyAtWork) {
        log.warn(`Job ${row.id} (${row.title}) is put back: ${error.message}`);
        await this.library.jobs.requeue({ id: row.id, owner: this.owner });
        return;
      }
      const cancelled = job.signal.aborted || (isMeshError(error) && error.code === 'cancelled');
      const words = errorWords(error);
      // what nobody foresaw, and trouble with the disk or the database
      if (!cancelled && (words === null || troubleOf(error))) log.error(error, `Job ${row.id} (${row.title}) failed`);
      await this.settle(row.id, {
        state: cancelled ? 'cancelled' : 'failed',
        endedAt: now(),
        phase: cancelled ? (job.signal.aborted ? String(job.signal.reason) : 'Cancelled') : 'Failed',
        error: cancelled ? null : (words ?? unforeseen),
      });
    } finally {
      this.active.delete(row.id);
      if (!this.closed) {
        for (const event of said) this.events.send(event);
        // however it ended, its body is free again
        if (said.length === 0) await this.tellFree(row);
        await this.announce(row.id).catch(() => undefined);
        await this.closeBatch(row).catch((error: unknown) => log.error(error, 'A batch could not be closed'));
        this.pump();
      }
    }
  }

  /** Tells of the end of a batch, once its last job has ended. */
  private async closeBatch({ batchId }: JobRow): Promise<void> {
    if (batchId === null || (await this.library.jobs.open({ batchId })).length > 0) return;
    await this.batchEnded(batchId);
  }

  /** Says that a line is no longer being changed. */
  private async tellFree({ kind, bodyId }: JobRow): Promise<void> {
    if (kind !== 'line' || bodyId === null) return;
    const body = await this.library.bodies.body(bodyId).catch(() => null);
    if (!body) return;
    for (const id of new Set([body.id, body.model.id]))
      this.events.send({ type: 'body', bodyId: id, projectId: body.projectId });
  }

  /**
   * Writes how a job ended. While the database does not take it, the end is told from memory and written again and
   * again, so that no job is ever "running" without anybody who runs it.
   */
  private async settle(id: string, end: JobEnd): Promise<void> {
    try {
      await this.library.jobs.end(id, this.owner, end);
    } catch (error) {
      log.error(error, `The end of job ${id} could not be written yet`);
      this.unwritten.set(id, end);
      void this.settleLater(id, end);
    }
  }

  private async settleLater(id: string, end: JobEnd): Promise<void> {
    for (let pause = 500; !this.closed; pause = Math.min(2 * pause, 15_000)) {
      await new Promise((resolve) => setTimeout(resolve, pause).unref());
      try {
        await this.library.jobs.end(id, this.owner, end);
        break;
      } catch {
        // not yet
      }
    }
    this.unwritten.delete(id);
  }

  private report(row: JobRow): (fraction: number, phase: string) => void {
    let savedAt = Date.now();
    const startedAt = now();
    return (progress, phase) => {
      this.events.send({ type: 'job', job: { ...jobView(row), state: 'running', startedAt, progress, phase } });
      if (Date.now() - savedAt < savedEveryMs) return;
      savedAt = Date.now();
      void this.library.jobs.progress(row.id, this.owner, progress, phase);
    };
  }

  /** Resolves when no job is running or waiting. */
  async idle(): Promise<void> {
    for (;;) {
      await this.starting;
      const left = await this.library.jobs.open('all');
      if (left.every((j) => this.unwritten.has(j.id)) && this.active.size === 0) return;
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
  }

  /** Resolves when nothing that was begun is still at work, after `close`. */
  async quiet(): Promise<void> {
    await this.starting;
    await Promise.all([...this.active.values()].map((job) => job.ended));
  }

  /** Stops taking jobs. Those that run stay marked as running until `putBack`, and begin again at the next start. */
  close(): void {
    this.closed = true;
    clearInterval(this.beating);
    this.watchers.close();
    this.cutOff = [...this.active.keys()];
    for (const job of this.active.values()) {
      job.over.abort();
      job.handle?.cancel();
    }
  }

  /** Puts what `close` cut off back in the queue: a stop that was asked for is no fault of theirs. */
  async putBack(): Promise<void> {
    await this.library.jobs.putBack(this.cutOff, this.owner);
  }
}
