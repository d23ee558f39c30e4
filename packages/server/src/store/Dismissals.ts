import { and, eq } from 'drizzle-orm';
import type { Reading } from './database.ts';
import { dismissals } from './schema.ts';
import type { Writer } from './Writer.ts';

/** Findings that were set aside, each with the reason given. */
export class Dismissals {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {}

  /** @param code key of the finding */
  async add(bodyId: string, code: string, reason: string): Promise<void> {
    const row = { bodyId, code, reason, at: new Date().toISOString() };
    await this.writer.commit(
      'dismissal',
      [
        this.db
          .insert(dismissals)
          .values(row)
          .onConflictDoUpdate({ target: [dismissals.bodyId, dismissals.code], set: { reason, at: row.at } }),
      ],
      { bodies: [bodyId] },
    );
  }

  async remove(bodyId: string, code: string): Promise<void> {
    await this.writer.commit(
      'dismissal',
      [this.db.delete(dismissals).where(and(eq(dismissals.bodyId, bodyId), eq(dismissals.code, code)))],
      { bodies: [bodyId] },
    );
  }
}
