import { and, eq } from 'drizzle-orm';
import type { Reading, Statement } from './database.ts';
import type { joints, tipTicks } from './schema.ts';
import type { Once } from './Answers.ts';
import type { Writer } from './Writer.ts';

/** What of a body was ticked off on the bench: joints of a model, support tips of a part. */
export class Ticks {
  /** @param what is changed, as the writer tells it */
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly table: typeof joints | typeof tipTicks,
    private readonly what: string,
  ) {}

  /**
   * @param key of what it is: the meshes that are joined, or the mesh and the place of a tip
   * @param at when it was done, ISO 8601
   */
  async tick(bodyId: string, key: string, at: string, once: Once): Promise<void> {
    const row = { bodyId, key, at };
    await this.commit(bodyId, this.db.insert(this.table).values(row).onConflictDoNothing(), once);
  }

  async untick(bodyId: string, key: string, once: Once): Promise<void> {
    const { table } = this;
    await this.commit(bodyId, this.db.delete(table).where(and(eq(table.bodyId, bodyId), eq(table.key, key))), once);
  }

  private commit(bodyId: string, statement: Statement, { beside, holds }: Once): Promise<void> {
    return this.writer.commit(this.what, [statement, ...beside], { bodies: [bodyId], holds });
  }
}
