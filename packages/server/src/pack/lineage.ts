import { eq } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { Database, Reading } from '../store/database.ts';
import { settings } from '../store/schema.ts';

/** By which a backup is known again: of what data it is, and what those went on from. */
export interface Lineage {
  id: string;
  /** data that were restored: these go on from them, and take the place of their backups */
  before: string[];
}

/** The row of the settings that it stands in. */
const row = 'folder';

const isLineage = (value: unknown): value is Lineage =>
  typeof value === 'object' &&
  value !== null &&
  typeof (value as Lineage).id === 'string' &&
  Array.isArray((value as Lineage).before);

/** What data are known by; null where they never were backed up. */
export async function lineageOf(db: Reading): Promise<Lineage | null> {
  const found = await db.query.settings.findFirst({ where: eq(settings.id, row) });
  return isLineage(found?.value) ? found.value : null;
}

/** The same, given to data that have none. */
export async function namedLineage(database: Database): Promise<Lineage> {
  const { db } = database;
  const fresh: Lineage = { id: randomUUID(), before: [] };
  const known = await lineageOf(db);
  if (known) return known;
  // another program may have done so a moment ago
  await database.write([db.insert(settings).values({ id: row, value: fresh }).onConflictDoNothing()]);
  return (await lineageOf(db)) ?? fresh;
}

/**
 * Says of data that were restored that they are others from now on: what they were made of may go on as well, and one must
 * not take the place of the other's backups.
 */
export async function branched(database: Database): Promise<void> {
  const { db } = database;
  const old = await lineageOf(db);
  const value: Lineage = { id: randomUUID(), before: old ? [...old.before, old.id] : [] };
  await database.write([
    db.insert(settings).values({ id: row, value }).onConflictDoUpdate({ target: settings.id, set: { value } }),
  ]);
}
