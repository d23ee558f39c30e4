import { asc, eq, getTableName } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { Database, Reading } from '../store/database.ts';
import { projects, settings } from '../store/schema.ts';

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
async function lineageOf(db: Reading): Promise<Lineage | null> {
  const found = await db.query.settings.findFirst({ where: eq(settings.id, row) });
  return isLineage(found?.value) ? found.value : null;
}

/**
 * The same, given to data that have none: by their first project, so that those of a version which had no place to keep it are
 * known by it too, and still are once they have.
 */
export async function namedLineage(database: Database): Promise<Lineage> {
  const { db, client } = database;
  const [first] = await db
    .select({ id: projects.id })
    .from(projects)
    .orderBy(asc(projects.createdAt), asc(projects.id))
    .limit(1);
  const fresh: Lineage = { id: first?.id ?? randomUUID(), before: [] };
  const { rows } = await client.execute({
    sql: `SELECT 1 FROM sqlite_schema WHERE type = 'table' AND name = ?`,
    args: [getTableName(settings)],
  });
  if (rows.length === 0) return fresh;
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
