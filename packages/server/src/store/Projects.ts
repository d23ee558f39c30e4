import { asc, eq, isNotNull, lt, and } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { ProjectView } from '@jasmorphe/contracts/views';
import type { LicenceId } from '@jasmorphe/core/trade/licences';
import { Refusal } from './Refusal.ts';
import type { Bodies } from './Bodies.ts';
import type { Reading, Statement } from './database.ts';
import { models, projects, type SourceWords } from './schema.ts';
import type { Writer } from './Writer.ts';

const now = (): string => new Date().toISOString();

/** A project that was taken off the shelf can be put back for so many days. */
const removedDays = 30;

/** What may be said of a project. */
export interface ProjectChange {
  name?: string;
  note?: string;
  archived?: boolean;
  /** empty: none */
  dueOn?: string;
  licence?: string;
  terms?: LicenceId;
  source?: Partial<SourceWords>;
}

/** Projects and what is said of them. */
export class Projects {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly bodies: Bodies,
  ) {}

  /** @throws Refusal `not-found`, `removed` */
  async mustExist(id: string): Promise<void> {
    const row = await this.db.query.projects.findFirst({
      columns: { removedAt: true },
      where: eq(projects.id, id),
    });
    if (!row) throw Refusal.notFound('project', id);
    if (row.removedAt !== null) throw removedError();
  }

  /** All there are, those put away too, in the order in which they were begun. */
  async all(): Promise<
    { id: string; name: string; dueOn: string | null; archivedAt: string | null; removedAt: string | null }[]
  > {
    const { id, name, dueOn, archivedAt, removedAt } = projects;
    return this.db.select({ id, name, dueOn, archivedAt, removedAt }).from(projects).orderBy(asc(projects.createdAt));
  }

  async create(name: string, note: string): Promise<ProjectView> {
    const row = { id: randomUUID(), name, note, createdAt: now(), updatedAt: now() };
    await this.writer.commit('project', [this.db.insert(projects).values(row)]);
    return this.project(row.id);
  }

  async change(id: string, { archived, dueOn, ...change }: ProjectChange): Promise<ProjectView> {
    await this.mustExist(id);
    const given = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
    const set = {
      ...given,
      ...(dueOn === undefined ? {} : { dueOn: dueOn || null }),
      ...(archived === undefined ? {} : { archivedAt: archived ? now() : null }),
      updatedAt: now(),
    };
    await this.writer.commit('project', [this.db.update(projects).set(set).where(eq(projects.id, id))], {
      projects: [id],
    });
    return this.project(id);
  }

  async project(id: string): Promise<ProjectView> {
    const row = await this.db.query.projects.findFirst({
      where: eq(projects.id, id),
      with: { models: { columns: { id: true, name: true }, orderBy: [asc(models.createdAt), asc(models.id)] } },
    });
    if (!row) throw Refusal.notFound('project', id);
    const { removedAt, ...view } = row;
    if (removedAt !== null) throw removedError();
    return { ...view, modelIds: row.models.map((m) => m.id) };
  }

  /** Takes a project off the shelf; it can be put back for a month. Its jobs must have ended. */
  async putAway(id: string): Promise<void> {
    await this.mustExist(id);
    await this.writer.commit(
      'put away project',
      [this.db.update(projects).set({ removedAt: now() }).where(eq(projects.id, id))],
      { projects: [id] },
    );
  }

  /** Puts a project that was taken off the shelf back. */
  async bringBack(id: string): Promise<ProjectView> {
    await this.writer.commit(
      'bring back project',
      [this.db.update(projects).set({ removedAt: null, archivedAt: null }).where(eq(projects.id, id))],
      { projects: [id] },
    );
    return this.project(id);
  }

  /** Ids of projects that were taken off the shelf longer ago than they are kept. */
  async longGone(days = removedDays): Promise<string[]> {
    const before = new Date(Date.now() - days * 86_400_000).toISOString();
    const rows = await this.db
      .select({ id: projects.id })
      .from(projects)
      .where(and(isNotNull(projects.removedAt), lt(projects.removedAt, before)));
    return rows.map((r) => r.id);
  }

  /** Removes a project with all that belongs to it, at once or not at all. Its jobs must have ended. */
  async remove(id: string): Promise<void> {
    await this.writer.commit(
      'remove project',
      [
        ...this.bodies.removeLines(eq(models.projectId, id)),
        // models, parts, references, jobs, batches, photos, notes and the log go with it
        this.db.delete(projects).where(eq(projects.id, id)),
      ],
      { projects: [id] },
    );
  }

  /** The statement that says that something in a project has changed just now. */
  touch(id: string): Statement {
    return this.db.update(projects).set({ updatedAt: now() }).where(eq(projects.id, id));
  }
}

const removedError = (): Refusal =>
  new Refusal(
    'unknown',
    'removed',
    'The project was taken off the shelf.',
    `It can be put back there for ${removedDays} days.`,
  );
