import { and, eq } from 'drizzle-orm';
import type { Reading } from './database.ts';
import type { joints, tipTicks } from './schema.ts';
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

  /** @param key of what it is: the meshes that are joined, or the mesh and the place of a tip */
  async tick(bodyId: string, key: string): Promise<void> {
    const row = { bodyId, key, at: new Date().toISOString() };
    await this.writer.commit(this.what, [this.db.insert(this.table).values(row).onConflictDoNothing()], {
      bodies: [bodyId],
    });
  }

  async untick(bodyId: string, key: string): Promise<void> {
    const { table } = this;
    await this.writer.commit(
      this.what,
      [this.db.delete(table).where(and(eq(table.bodyId, bodyId), eq(table.key, key)))],
      { bodies: [bodyId] },
    );
  }
}
