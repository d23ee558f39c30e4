import { asc, eq, sql } from 'drizzle-orm';
import type { LogEntryView } from '@jasmorphe/contracts/views';
import { inForce, takeBackRefusal, type PrintEvent } from '@jasmorphe/core/planning/printState';
import type { Reading, Statement } from './database.ts';
import { grouped } from './grouped.ts';
import { isNamed, rowsOf } from './named.ts';
import { logEntries } from './schema.ts';
import type { Writer } from './Writer.ts';

export type LogRow = typeof logEntries.$inferInsert;
export type LogRowInForce = typeof logEntries.$inferSelect;

/** What entries are about: a mesh, as it is printed for a model. Two models may have one and the same mesh. */
export const printOf = ({ modelId = '', meshHash = '' }: Pick<LogRow, 'modelId' | 'meshHash'>): string =>
  `${modelId} ${meshHash}`;

const queriesOf = (db: Reading) => {
  const { id, outcome, heightMm, correctsId, meshHash, modelId } = logEntries;
  const event = { id, outcome, heightMm, correctsId };
  const inOrder = asc(sql`rowid`);
  return {
    events: db
      .select({ ...event, meshHash, modelId })
      .from(logEntries)
      .where(isNamed(modelId))
      .orderBy(inOrder)
      .prepare(),
    ofModels: db.select().from(logEntries).where(isNamed(modelId)).orderBy(inOrder).prepare(),
    all: db.select().from(logEntries).orderBy(inOrder).prepare(),
    allEvents: db.select(event).from(logEntries).orderBy(inOrder).prepare(),
  };
};

/** What happened at the printer: entries that are added and never changed. */
export class PrintLog {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {
    this.queries = queriesOf(db);
  }

  /** Entries of a project, the newest first. @param recut what was recut, by `printOf` */
  async log(projectId: string, recut: ReadonlySet<string>): Promise<LogEntryView[]> {
    const rows = await this.db
      .select()
      .from(logEntries)
      .where(eq(logEntries.projectId, projectId))
      .orderBy(asc(sql`rowid`));
    const force = new Set(inForce(rows).map((e) => e.id));
    const ofMesh = grouped(rows, (row) => [printOf(row), row]);
    return rows.toReversed().map((row) => {
      const own = printOf(row);
      const canTakeBack =
        row.outcome !== 'withdrawn' && takeBackRefusal(row, ofMesh.get(own)!, recut.has(own)) === null;
      const { saidId: _, ...said } = row;
      return { ...said, withdrawn: !force.has(row.id), canTakeBack };
    });
  }

  /** Entries by model and by the mesh that they are about, in the order in which they were made. */
  async eventsOf(modelIds: readonly string[]): Promise<Map<string, Map<string, PrintEvent[]>>> {
    const rows = await rowsOf(this.queries.events, modelIds);
    const out = new Map<string, Map<string, PrintEvent[]>>();
    for (const { meshHash, modelId, ...event } of rows) {
      const ofModel = out.get(modelId) ?? new Map<string, PrintEvent[]>();
      out.set(modelId, ofModel.set(meshHash, [...(ofModel.get(meshHash) ?? []), event]));
    }
    return out;
  }

  /** Entries that no later one took back, of some models or of all, in the order in which they were made. */
  async inForceOf(modelIds?: readonly string[]): Promise<LogRowInForce[]> {
    const rows = modelIds ? await rowsOf(this.queries.ofModels, modelIds) : await this.queries.all.execute();
    const force = new Set(inForce(rows).map((e) => e.id));
    return rows.filter((e) => force.has(e.id));
  }

  /** Entries of all projects that a later one has taken back. */
  async withdrawn(): Promise<Set<string>> {
    const rows = await this.queries.allEvents.execute();
    const force = new Set(inForce(rows).map((e) => e.id));
    return new Set(rows.map((e) => e.id).filter((one) => !force.has(one)));
  }

  /** Several entries at once or none. @param holds throws when they do not follow any more, asked while nothing else is written */
  async add(rows: readonly LogRow[], holds: () => Promise<void>, beside: readonly Statement[] = []): Promise<void> {
    await this.writer.commit('print log', [...rows.map((row) => this.db.insert(logEntries).values(row)), ...beside], {
      projects: [...new Set(rows.map((r) => r.projectId))],
      holds,
    });
  }
}
