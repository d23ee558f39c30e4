import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import type { JobView } from '@jasmorphe/contracts/views';
import { ApiError } from '../http/ApiError.ts';
import { chunked } from './chunked.ts';
import type { Reading, Statement } from './database.ts';
import { jobs } from './schema.ts';
import type { Relied, Writer } from './Writer.ts';

export type JobRow = typeof jobs.$inferSelect;
export type JobEnd = Pick<JobRow, 'state' | 'endedAt' | 'phase' | 'error'>;

const now = (): string => new Date().toISOString();
const open: JobRow['state'][] = ['queued', 'running'];

/** A job that was running at as many ends of the process is given up. */
const mostAttempts = 3;

export const jobView = (row: JobRow): JobView => ({
  id: row.id,
  kind: row.kind,
  title: row.title,
  projectId: row.projectId,
  bodyId: row.bodyId,
  batchId: row.batchId,
  state: row.state,
  progress: row.progress,
  phase: row.phase,
  error: row.error as JobView['error'],
  result: row.result as JobView['result'],
  createdAt: row.createdAt,
  startedAt: row.startedAt,
  endedAt: row.endedAt,
});

/** Jobs as they are on record. */
export class JobRows {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {}

  /** @throws ApiError `not-found` */
  async row(id: string): Promise<JobRow> {
    const row = await this.db.query.jobs.findFirst({ where: eq(jobs.id, id) });
    if (!row) throw ApiError.notFound('job', id);
    return row;
  }

  /** The newest first, at most a hundred. */
  newest(): Promise<JobRow[]> {
    return this.db.query.jobs.findMany({ orderBy: desc(jobs.createdAt), limit: 100 });
  }

  /** Those that wait or run. */
  open(
    which:
      | { projectId: string }
      | { bodyIds: string[] }
      | { batchId: string }
      | { bodyId: string; kind: JobRow['kind'] }
      | 'all',
  ) {
    const own =
      which === 'all'
        ? undefined
        : 'projectId' in which
          ? eq(jobs.projectId, which.projectId)
          : 'batchId' in which
            ? eq(jobs.batchId, which.batchId)
            : 'bodyIds' in which
              ? inArray(jobs.bodyId, which.bodyIds)
              : and(eq(jobs.bodyId, which.bodyId), eq(jobs.kind, which.kind));
    return this.db.query.jobs.findMany({ where: and(own, inArray(jobs.state, open)), orderBy: asc(jobs.createdAt) });
  }

  /** All of a batch, in the order in which they were asked for. */
  ofBatches(batchIds: readonly string[]): Promise<JobRow[]> {
    return chunked(batchIds, (some) =>
      this.db.query.jobs.findMany({ where: inArray(jobs.batchId, some), orderBy: [asc(jobs.createdAt), asc(jobs.id)] }),
    );
  }

  /** Those that wait, the oldest first. */
  waiting(): Promise<JobRow[]> {
    return this.db.query.jobs.findMany({
      where: eq(jobs.state, 'queued'),
      orderBy: asc(jobs.createdAt),
      limit: 200,
    });
  }

  /** Puts jobs on record, together with what belongs to them. */
  async add(rows: readonly (typeof jobs.$inferInsert)[], beside: readonly Statement[], relied: Relied): Promise<void> {
    const statements = [...beside, ...rows.map((row) => this.db.insert(jobs).values(row))];
    await this.writer.commit('job', statements, relied);
  }

  /** Puts jobs that were running when the process died back in the queue; gives up those that have died too often. */
  async requeue(): Promise<void> {
    const cut = await this.db.query.jobs.findMany({ where: eq(jobs.state, 'running') });
    await this.writer.commit(
      'requeue',
      cut.map((job) =>
        this.set(
          job.id,
          job.attempts >= mostAttempts
            ? {
                state: 'failed',
                endedAt: now(),
                error: {
                  code: 'gave-up',
                  message: `The server stopped ${job.attempts} times while doing this.`,
                  hint: 'The mesh may need more memory than there is. Simplify it first.',
                },
              }
            : { state: 'queued', progress: 0, phase: 'Waiting to begin again' },
        ),
      ),
    );
  }

  /** Marks a waiting job as running. How often it was begun is on record before it may take the process down. False when it no longer waits. */
  async begin(job: JobRow): Promise<boolean> {
    await this.writer.commit('begin', [
      this.db
        .update(jobs)
        .set({
          state: 'running',
          startedAt: now(),
          heartbeatAt: now(),
          attempts: job.attempts + 1,
          phase: 'Beginning',
        })
        .where(and(eq(jobs.id, job.id), eq(jobs.state, 'queued'))),
    ]);
    const row = await this.db.query.jobs.findFirst({ columns: { state: true }, where: eq(jobs.id, job.id) });
    return row?.state === 'running';
  }

  /** How far a running job is; lost while the database is held elsewhere. */
  heartbeat(id: string, progress: number, phase: string): Promise<void> {
    return this.writer.note([
      this.db
        .update(jobs)
        .set({ progress, phase, heartbeatAt: now() })
        .where(and(eq(jobs.id, id), eq(jobs.state, 'running'))),
    ]);
  }

  /** What was made and the word that it is done enter together, so that neither is ever there alone. */
  async done(job: JobRow, made: readonly Statement[], result: JobRow['result'], relied: Relied): Promise<void> {
    const end = { state: 'done' as const, progress: 1, phase: 'Done', endedAt: now(), result, error: null };
    await this.writer.commit(job.kind, [...made, this.set(job.id, end)], relied);
  }

  async end(id: string, end: JobEnd): Promise<void> {
    await this.writer.commit('end', [this.set(id, end)]);
  }

  /** Settles a job that nobody runs. */
  async cancel(id: string): Promise<void> {
    await this.writer.commit('cancel', [
      this.db
        .update(jobs)
        .set({ state: 'cancelled', endedAt: now(), phase: 'Cancelled' })
        .where(and(eq(jobs.id, id), inArray(jobs.state, open))),
    ]);
  }

  private set(id: string, values: Partial<JobRow>): Statement {
    return this.db.update(jobs).set(values).where(eq(jobs.id, id));
  }
}
