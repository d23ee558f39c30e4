import { desc, eq } from 'drizzle-orm';
import type { BatchView } from '@jasmorphe/contracts/kitViews';
import { Refusal } from './Refusal.ts';
import { codecs } from './codecs.ts';
import type { Reading, Statement } from './database.ts';
import type { JobRow, JobRows } from './JobRows.ts';
import { batches } from './schema.ts';

export type BatchRow = typeof batches.$inferSelect;

const isOpen = (j: JobRow): boolean => j.state === 'queued' || j.state === 'running';

/** The file that a job of a kit reads, or what else it is called by. */
const subjectOf = ({ kind, payload, title }: JobRow): string => {
  if (kind !== 'import') return title;
  try {
    const { path, fileName } = codecs.payload.read(payload, kind);
    return path || fileName;
  } catch {
    // one that cannot be read fails, and takes nothing else away
    return title;
  }
};

/** Work asked for at once, told as one. */
export class Batches {
  constructor(
    private readonly db: Reading,
    private readonly jobs: JobRows,
  ) {}

  /** @throws Refusal `not-found` */
  async row(id: string): Promise<BatchRow> {
    const row = await this.db.query.batches.findFirst({ where: eq(batches.id, id) });
    if (!row) throw Refusal.notFound('batch', id);
    return row;
  }

  async view(id: string): Promise<BatchView> {
    const [view] = await this.viewsOf([await this.row(id)]);
    return view;
  }

  /** The newest first, few. */
  async ofProject(projectId: string): Promise<BatchView[]> {
    const rows = await this.db.query.batches.findMany({
      where: eq(batches.projectId, projectId),
      orderBy: desc(batches.createdAt),
      limit: 12,
    });
    return this.viewsOf(rows);
  }

  private async viewsOf(rows: readonly BatchRow[]): Promise<BatchView[]> {
    const jobs = await this.jobs.ofBatches(rows.map((r) => r.id));
    return rows.map(({ id, projectId, kind, title, refused, plan, undoneAt, createdAt }) => {
      const all = jobs.filter((j) => j.batchId === id);
      // setting the unit of what was read is no file of its own
      const mine = kind === 'import' ? all.filter((j) => j.kind === 'import') : all;
      const count = (state: JobRow['state']) => mine.filter((j) => j.state === state).length;
      const open = all.filter(isOpen).length;
      // what was known already needs no job
      const known = kind === 'preview' ? (plan?.members.length ?? 0) - mine.length : 0;
      const total = mine.length + known;
      const sum = mine.reduce((n, j) => n + (isOpen(j) ? j.progress : 1), known);
      const failed = mine.filter((j) => j.state === 'failed');
      return {
        id,
        projectId,
        kind,
        operation: plan?.operation ?? null,
        title,
        total,
        done: count('done') + known,
        failed: failed.length,
        cancelled: count('cancelled'),
        open,
        progress: total > 0 ? sum / total : 1,
        refused: [
          ...refused,
          ...failed.map((j) => {
            const { message, hint } = codecs.error.read(j.error)!;
            return { file: subjectOf(j), message: [message, hint].filter(Boolean).join(' ') };
          }),
        ],
        canUndo: kind === 'line' && undoneAt === null && open === 0 && count('done') > 0,
        undoneAt,
        createdAt,
      };
    });
  }

  statement(row: typeof batches.$inferInsert): Statement {
    return this.db.insert(batches).values(row);
  }

  /** The statement that marks one as undone. */
  undone(id: string): Statement {
    return this.db.update(batches).set({ undoneAt: new Date().toISOString() }).where(eq(batches.id, id));
  }
}
