import { eq } from 'drizzle-orm';
import { Refusal } from './Refusal.ts';
import type { BlobStore } from './BlobStore.ts';
import type { Database, Reading, Statement } from './database.ts';
import { Gate } from './Gate.ts';
import { isNamed, rowsOf } from './named.ts';
import { models, parts, projects } from './schema.ts';
import { StoreError } from './troubles.ts';

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

const queriesOf = (db: Reading) => ({
  projects: db.select({ id: projects.id }).from(projects).where(isNamed(projects.id)).prepare(),
  models: db.select({ id: models.id }).from(models).where(isNamed(models.id)).prepare(),
  // a part goes with its model
  parts: db
    .select({ id: parts.id })
    .from(parts)
    .innerJoin(models, eq(models.id, parts.modelId))
    .where(isNamed(parts.id))
    .prepare(),
});

/** The one way into the database. Changes and collecting pass one at a time, so that nothing is collected while it comes into use. */
export class Writer {
  private readonly gate = new Gate();
  private readonly queries: ReturnType<typeof queriesOf>;
  /** told before and after every change; for tests that end the process at such an instant */
  witness: (instant: 'before' | 'after', what: string) => void = () => undefined;

  constructor(
    private readonly database: Database,
    private readonly blobs: BlobStore,
  ) {
    this.queries = queriesOf(database.db);
  }

  /**
   * Makes all changes or none, once what they rely on is seen to stand. While another program holds the database it
   * tries again for half a minute.
   *
   * @param statements or what finds them, once nothing else is changed meanwhile
   * @throws Refusal `not-found` when a project or body is gone; StoreError when a file is
   */
  async commit(
    what: string,
    statements: readonly Statement[] | (() => Promise<readonly Statement[]>),
    relied: Relied = {},
  ): Promise<void> {
    if (statements.length === 0 && typeof statements !== 'function') return;
    await this.gate.run(async () => {
      await this.stands(relied);
      const all = typeof statements === 'function' ? await statements() : statements;
      if (all.length === 0) return;
      this.witness('before', what);
      await this.database.write(all);
      this.witness('after', what);
    });
  }

  /** Writes what may as well be lost: at once or not at all, and after whatever is being written. */
  note(statements: readonly Statement[]): Promise<void> {
    return this.gate.run(() => this.database.write(statements, 0)).catch(() => undefined);
  }

  /** Does something while nothing else is changed. What it writes it writes by the function that it is given. */
  alone<T>(work: (write: (statements: readonly Statement[]) => Promise<void>) => Promise<T>): Promise<T> {
    return this.gate.run(() => work((statements) => this.database.write(statements)));
  }

  private async stands(relied: Relied): Promise<void> {
    await relied.holds?.();
    const absent = (ids: readonly string[], there: { id: string }[]) =>
      ids.find((id) => !there.some((row) => row.id === id));
    if (relied.projects?.length) {
      const ids = relied.projects;
      const rows = await rowsOf(this.queries.projects, ids);
      const gone = absent(ids, rows);
      if (gone !== undefined) throw Refusal.notFound('project', gone);
    }
    if (relied.bodies?.length) {
      const ids = relied.bodies;
      const rows = [...(await rowsOf(this.queries.models, ids)), ...(await rowsOf(this.queries.parts, ids))];
      const gone = absent(ids, rows);
      if (gone !== undefined) throw Refusal.notFound('model or part', gone);
    }
    for (const kind of ['meshes', 'sources'] as const)
      for (const hash of relied[kind] ?? [])
        if (!(await this.blobs.ensure(kind, hash))) throw new StoreError('file-missing', `${kind}/${hash}`);
  }
}
