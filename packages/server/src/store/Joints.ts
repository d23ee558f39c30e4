import { and, eq } from 'drizzle-orm';
import type { Reading } from './database.ts';
import { joints } from './schema.ts';
import type { Writer } from './Writer.ts';

/** Joints that were ticked off on the bench. */
export class Joints {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {}

  /** @param key of the meshes that are joined */
  async tick(bodyId: string, key: string): Promise<void> {
    const row = { bodyId, key, at: new Date().toISOString() };
    await this.writer.commit('joint', [this.db.insert(joints).values(row).onConflictDoNothing()], { bodies: [bodyId] });
  }

  async untick(bodyId: string, key: string): Promise<void> {
    await this.writer.commit(
      'joint',
      [this.db.delete(joints).where(and(eq(joints.bodyId, bodyId), eq(joints.key, key)))],
      { bodies: [bodyId] },
    );
  }
}
