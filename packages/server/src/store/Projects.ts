import { asc, eq } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { ProjectView } from '@jasmorphe/contracts/views';
import { ApiError } from '../http/ApiError.ts';
import type { Bodies } from './Bodies.ts';
import type { Reading, Statement } from './database.ts';
import { models, projects } from './schema.ts';
import type { Writer } from './Writer.ts';

const now = (): string => new Date().toISOString();

/** Projects and what is said of them. */
export class Projects {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly bodies: Bodies,
  ) {}

  /** @throws ApiError `not-found` */
  async mustExist(id: string): Promise<void> {
    const row = await this.db.query.projects.findFirst({ columns: { id: true }, where: eq(projects.id, id) });
    if (!row) throw ApiError.notFound('project', id);
  }

  async create(name: string, note: string): Promise<ProjectView> {
    const row = { id: randomUUID(), name, note, createdAt: now(), updatedAt: now() };
    await this.writer.commit('project', [this.db.insert(projects).values(row)]);
    return { ...row, modelIds: [], models: [] };
  }

  async change(id: string, change: { name?: string; note?: string }): Promise<ProjectView> {
    const set = { ...change, updatedAt: now() };
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
    if (!row) throw ApiError.notFound('project', id);
    return { ...row, modelIds: row.models.map((m) => m.id) };
  }

  /** Removes a project with all that belongs to it, at once or not at all. Its jobs must have ended. */
  async remove(id: string): Promise<void> {
    await this.writer.commit(
      'remove project',
      [
        ...this.bodies.removeLines(eq(models.projectId, id)),
        // models, parts, references, jobs and the log go with it
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
