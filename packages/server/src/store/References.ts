import { eq } from 'drizzle-orm';
import type { ReferenceView } from '@jasmorphe/contracts/views';
import { Refusal } from './Refusal.ts';
import type { Reading, Statement } from './database.ts';
import { references } from './schema.ts';
import type { Writer } from './Writer.ts';

export type ReferenceRow = typeof references.$inferSelect;

export const referenceView = ({ modelId: _model, createdAt: _at, ...view }: ReferenceRow): ReferenceView => view;

/** Bodies that models are sized by. */
export class References {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {}

  /** @throws Refusal `not-found` */
  async reference(id: string): Promise<ReferenceRow> {
    const row = await this.db.query.references.findFirst({ where: eq(references.id, id) });
    if (!row) throw Refusal.notFound('reference', id);
    return row;
  }

  /** The statement that adds one. */
  statement(row: typeof references.$inferInsert): Statement {
    return this.db.insert(references).values(row);
  }

  async change(id: string, change: Partial<Omit<ReferenceRow, 'id' | 'modelId'>>): Promise<void> {
    const given = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
    if (Object.keys(given).length === 0) return;
    await this.writer.commit('reference', [this.db.update(references).set(given).where(eq(references.id, id))]);
  }

  async remove(id: string): Promise<void> {
    await this.writer.commit('reference', [this.db.delete(references).where(eq(references.id, id))]);
  }
}
