import { and, asc, desc, eq, inArray, isNull, lt, or, sql, type SQL } from 'drizzle-orm';
import type { JobView } from '@jasmorphe/contracts/views';
import { Refusal } from './Refusal.ts';
import { codecs } from './codecs.ts';
import type { Reading, Statement } from './database.ts';
import { isNamed, rowsOf } from './named.ts';
import { jobs } from './schema.ts';
import type { Relied, Writer } from './Writer.ts';

export type JobRow = typeof jobs.$inferSelect;
export type JobEnd = Pick<JobRow, 'state' | 'endedAt' | 'phase' | 'error'>;

const now = (): string => new Date().toISOString();
const open: JobRow['state'][] = ['queued', 'running'];

/** A job that was running at as many ends of the process is given up. */
const mostAttempts = 3;

/** How long a job is its owner's since the last that was heard of it, ms. */
export const leaseMs = 30_000;

/** A job is somebody else's by now, or nobody's: what was made for it is not taken. */
export class LeaseLost extends Error {
  constructor(id: string) {
    super(`Job ${id} is no longer ours.`);
    this.name = 'LeaseLost';
  }
}

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
  error: codecs.error.read(row.error),
  result: codecs.result.read(row.result),
  createdAt: row.createdAt,
  startedAt: row.startedAt,
  endedAt: row.endedAt,
});

/** A job that runs, while it is that owner's. */
const held = (id: string, owner: string): SQL =>
  and(eq(jobs.id, id), eq(jobs.state, 'running'), eq(jobs.owner, owner))!;

const queriesOf = (db: Reading) => {
  const opened = (which?: SQL) =>
    db.query.jobs.findMany({ where: and(which, inArray(jobs.state, open)), orderBy: asc(jobs.createdAt) }).prepare();
  return {
    jobs: db.query.jobs.findMany({ where: isNamed(jobs.id) }).prepare(),
    states: db.select({ state: jobs.state, owner: jobs.owner }).from(jobs).where(isNamed(jobs.id)).prepare(),
    newest: db.query.jobs.findMany({ orderBy: desc(jobs.createdAt), limit: 100 }).prepare(),
    waiting: db.query.jobs
      // a batch may be longer than that: what is asked for alone is not to be behind it
      .findMany({
        where: eq(jobs.state, 'queued'),
        orderBy: [sql`${jobs.kind} = 'preview' and ${jobs.batchId} is not null`, asc(jobs.createdAt)],
        limit: 200,
      })
      .prepare(),
    ofBatches: db.query.jobs
      .findMany({ where: isNamed(jobs.batchId), orderBy: [asc(jobs.createdAt), asc(jobs.id)] })
      .prepare(),
    allOpen: opened(),
    openOfProjects: opened(isNamed(jobs.projectId)),
    openOfBatches: opened(isNamed(jobs.batchId)),
    openOfBodies: opened(isNamed(jobs.bodyId)),
  };
};

/** Jobs as they are on record. */
export class JobRows {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {
    this.queries = queriesOf(db);
  }

  /** @throws Refusal `not-found` */
  async row(id: string): Promise<JobRow> {
    const [row] = await rowsOf(this.queries.jobs, [id]);
    if (!row) throw Refusal.notFound('job', id);
    return row;
  }

  /** The newest first, at most a hundred. */
  newest(): Promise<JobRow[]> {
    return this.queries.newest.execute();
  }

  /** Those that wait or run. */
  async open(
    which:
      | { projectId: string }
      | { bodyIds: string[] }
      | { batchId: string }
      | { bodyId: string; kind: JobRow['kind'] }
      | 'all',
  ): Promise<JobRow[]> {
    const { allOpen, openOfProjects, openOfBatches, openOfBodies } = this.queries;
    if (which === 'all') return allOpen.execute();
    if ('projectId' in which) return rowsOf(openOfProjects, [which.projectId]);
    if ('batchId' in which) return rowsOf(openOfBatches, [which.batchId]);
    if ('bodyIds' in which) return rowsOf(openOfBodies, which.bodyIds);
    const own = await rowsOf(openOfBodies, [which.bodyId]);
    return own.filter((job) => job.kind === which.kind);
  }

  /** All of a batch, in the order in which they were asked for. */
  ofBatches(batchIds: readonly string[]): Promise<JobRow[]> {
    return rowsOf(this.queries.ofBatches, batchIds);
  }

  /** Those that wait, the oldest first. */
  waiting(): Promise<JobRow[]> {
    return this.queries.waiting.execute();
  }

  /** Puts jobs on record, together with what belongs to them. */
  async add(rows: readonly (typeof jobs.$inferInsert)[], beside: readonly Statement[], relied: Relied): Promise<void> {
    const statements = [...beside, ...rows.map((row) => this.db.insert(jobs).values(row))];
    await this.writer.commit('job', statements, relied);
  }

  /**
   * Puts jobs back in the queue whose owners are gone; gives up those that were cut off too often.
   *
   * @param which all that run, where nobody else can be at work; those whose lease ran out; or one of an owner
   * @returns their ids
   */
  async requeue(which: 'all' | 'expired' | { id: string; owner: string }): Promise<string[]> {
    const heardBefore = new Date(Date.now() - leaseMs).toISOString();
    const gone = {
      all: () => undefined,
      expired: () => or(isNull(jobs.heartbeatAt), lt(jobs.heartbeatAt, heardBefore)),
    };
    const cond = typeof which === 'string' ? gone[which]() : and(eq(jobs.id, which.id), eq(jobs.owner, which.owner));
    const where = and(eq(jobs.state, 'running'), cond);
    const ids: string[] = [];
    // as a rule there is none, and nothing need wait for the look
    if ((await this.db.select({ id: jobs.id }).from(jobs).where(where)).length === 0) return ids;
    await this.writer.commit('requeue', async () => {
      const cut = await this.db.query.jobs.findMany({ where });
      ids.push(...cut.map((job) => job.id));
      return cut.map((job) =>
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
            : { state: 'queued', owner: null, progress: 0, phase: 'Waiting to begin again' },
        ),
      );
    });
    return ids;
  }

  /** Puts running jobs back as they waited: this time they were begun is not counted. */
  async putBack(ids: readonly string[], owner: string): Promise<void> {
    if (ids.length === 0) return;
    const back = { state: 'queued' as const, owner: null, progress: 0, phase: 'Waiting to begin again' };
    await this.writer.commit(
      'requeue',
      ids.map((id) =>
        this.db
          .update(jobs)
          .set({ ...back, attempts: sql`max(0, ${jobs.attempts} - 1)` })
          .where(held(id, owner)),
      ),
    );
  }

  /**
   * Takes a job that waits. How often it was begun is on record before it may take the process down. False when it no longer waits:
   * of several that would have it one gets it.
   */
  async begin(job: JobRow, owner: string): Promise<boolean> {
    await this.writer.commit('begin', [
      this.db
        .update(jobs)
        .set({
          state: 'running',
          owner,
          startedAt: now(),
          heartbeatAt: now(),
          attempts: job.attempts + 1,
          phase: 'Beginning',
        })
        .where(and(eq(jobs.id, job.id), eq(jobs.state, 'queued'))),
    ]);
    const [row] = await rowsOf(this.queries.states, [job.id]);
    return row?.state === 'running' && row.owner === owner;
  }

  /** How far a running job is; lost while the database is held elsewhere. */
  progress(id: string, owner: string, progress: number, phase: string): Promise<void> {
    return this.writer.note([this.db.update(jobs).set({ progress, phase, heartbeatAt: now() }).where(held(id, owner))]);
  }

  /** Says that jobs are still at work: they stay their owner's. */
  async heartbeat(ids: readonly string[], owner: string): Promise<void> {
    if (ids.length === 0) return;
    await this.writer.note(ids.map((id) => this.db.update(jobs).set({ heartbeatAt: now() }).where(held(id, owner))));
  }

  /**
   * What was made and the word that it is done enter together, so that neither is ever there alone.
   *
   * @throws LeaseLost where the job was cancelled, or somebody else has it by now
   */
  async done(
    job: JobRow,
    owner: string,
    made: readonly Statement[],
    result: JobRow['result'],
    relied: Relied,
  ): Promise<void> {
    const end = { state: 'done' as const, progress: 1, phase: 'Done', endedAt: now(), result, error: null };
    const holds = async (): Promise<void> => {
      const [row] = await rowsOf(this.queries.states, [job.id]);
      // a job that is gone went with its project, which is told in its own words
      if (row && (row.state !== 'running' || row.owner !== owner)) throw new LeaseLost(job.id);
      await relied.holds?.();
    };
    await this.writer.commit(job.kind, [...made, this.set(job.id, end)], { ...relied, holds });
  }

  /** Says how a job ended, unless somebody else has it by now. */
  async end(id: string, owner: string, end: JobEnd): Promise<void> {
    const ours = or(isNull(jobs.owner), eq(jobs.owner, owner));
    await this.writer.commit('end', [
      this.db
        .update(jobs)
        .set(end)
        .where(and(eq(jobs.id, id), inArray(jobs.state, open), ours)),
    ]);
  }

  /** Settles a job that nobody runs. */
  async cancel(id: string, phase: string): Promise<void> {
    await this.writer.commit('cancel', [
      this.db
        .update(jobs)
        .set({ state: 'cancelled', endedAt: now(), phase })
        .where(and(eq(jobs.id, id), inArray(jobs.state, open))),
    ]);
  }

  private set(id: string, values: Partial<JobRow>): Statement {
    return this.db.update(jobs).set(values).where(eq(jobs.id, id));
  }
}
