import { asc, eq, isNotNull, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type {
  MaterialView,
  PlaceView,
  PrinterView,
  SavedBodyView,
  SpoolEntryView,
  SpoolView,
} from '@jasmorphe/contracts/views';
import type { Settings } from '@jasmorphe/contracts/workshopRequests';
import { type SaveMaterial } from '@jasmorphe/contracts/workshopRequests';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { gramsLeft, metresOf } from '@jasmorphe/core/planning/spool';
import { figures } from '@jasmorphe/core/trade/figures';
import { examplePlaces } from '@jasmorphe/core/trade/placeKinds';
import { countOf } from '@jasmorphe/core/words/numbers';
import { Refusal } from './Refusal.ts';
import { codecs } from './codecs.ts';
import type { Reading, Statement } from './database.ts';
import type { PrintLog } from './PrintLog.ts';
import {
  logEntries,
  materials,
  places,
  printers,
  projects,
  savedBodies,
  settings,
  spoolEntries,
  spools,
} from './schema.ts';
import type { Writer } from './Writer.ts';

/** What is kept of the workshop in rows of its own. */
type Kept = typeof printers | typeof materials | typeof spools | typeof places | typeof savedBodies;

/** A spool as it is said to be. */
type SpoolRow = Omit<typeof spools.$inferInsert, 'id' | 'createdAt'> & { endedAt: string | null };

const now = (): string => new Date().toISOString();

const placeFields = {
  id: places.id,
  name: places.name,
  kind: places.kind,
  widthMm: places.widthMm,
  depthMm: places.depthMm,
  heightMm: places.heightMm,
};

/** What every look at printers asks for. */
const queriesOf = (db: Reading) => ({
  printers: db.query.printers.findMany({ orderBy: asc(printers.createdAt) }).prepare(),
  logged: db
    .select({ id: logEntries.id, printerId: logEntries.printerId, durationS: logEntries.durationS })
    .from(logEntries)
    .where(isNotNull(logEntries.durationS))
    .prepare(),
});

/** The maker's printers, materials and places. */
export class Workshop {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly prints: PrintLog,
  ) {
    this.queries = queriesOf(db);
  }

  async printers(): Promise<PrinterView[]> {
    const rows = await this.queries.printers.execute();
    const logged = await this.queries.logged.execute();
    const withdrawn = await this.prints.withdrawn();
    const hours = new Map<string | null, number>();
    for (const e of logged)
      if (!withdrawn.has(e.id)) hours.set(e.printerId, (hours.get(e.printerId) ?? 0) + e.durationS! / 3600);
    return rows.map(({ id, profile, retiredAt }) => ({
      id,
      profile: codecs.profile.read(profile),
      retiredAt,
      loggedH: hours.get(id) ?? 0,
    }));
  }

  private async printer(id: string): Promise<PrinterView> {
    const found = (await this.printers()).find((p) => p.id === id);
    if (!found) throw Refusal.notFound('printer', id);
    return found;
  }

  async addPrinter(profile: PrinterProfile): Promise<PrinterView> {
    const row = { id: randomUUID(), profile: { ...profile } };
    await this.writer.commit('workshop', [this.db.insert(printers).values({ ...row, createdAt: now() })]);
    return this.printer(row.id);
  }

  async changePrinter(id: string, change: { profile?: PrinterProfile; retired?: boolean }): Promise<PrinterView> {
    const { retiredAt } = await this.printer(id);
    const set = {
      ...(change.profile ? { profile: { ...change.profile } } : {}),
      ...(change.retired === undefined ? {} : { retiredAt: change.retired ? (retiredAt ?? now()) : null }),
    };
    await this.writer.commit('workshop', [this.db.update(printers).set(set).where(eq(printers.id, id))], {
      holds: this.holds(printers, 'printer', id),
    });
    return this.printer(id);
  }

  async removePrinter(id: string): Promise<void> {
    await this.remove(printers, 'printer', id);
  }

  async materials(): Promise<MaterialView[]> {
    const rows = await this.db.query.materials.findMany({ orderBy: asc(materials.createdAt) });
    return rows.map(({ createdAt: _, ...view }) => view);
  }

  private async material(id: string): Promise<MaterialView> {
    const found = (await this.materials()).find((m) => m.id === id);
    if (!found) throw Refusal.notFound('material', id);
    return found;
  }

  async addMaterial(material: SaveMaterial): Promise<MaterialView> {
    const row = { id: randomUUID(), ...material, createdAt: now() };
    await this.writer.commit('workshop', [this.db.insert(materials).values(row)]);
    return this.material(row.id);
  }

  async changeMaterial(id: string, change: SaveMaterial | { retiredAt: string | null }): Promise<MaterialView> {
    await this.writer.commit(
      'workshop',
      [
        this.db
          .update(materials)
          .set({ ...change })
          .where(eq(materials.id, id)),
      ],
      {
        holds: this.holds(materials, 'material', id),
      },
    );
    return this.material(id);
  }

  /** Puts it out of use, or takes it back into it. */
  async retireMaterial(id: string, retired: boolean): Promise<MaterialView> {
    const { retiredAt } = await this.material(id);
    return this.changeMaterial(id, { retiredAt: retired ? (retiredAt ?? now()) : null });
  }

  /** @throws Refusal `in-use` while a spool or bottle of it is listed: they would go with it, and what was taken from them */
  async removeMaterial(id: string): Promise<void> {
    await this.writer.commit('workshop', [this.db.delete(materials).where(eq(materials.id, id))], {
      holds: async () => {
        const { name } = await this.material(id);
        const own = await this.db.select({ name: spools.name }).from(spools).where(eq(spools.materialId, id));
        if (own.length > 0)
          throw new Refusal(
            'state',
            'in-use',
            `${name} has ${countOf(own.length, 'spool')}: ${own
              .slice(0, 3)
              .map((s) => s.name)
              .join(', ')}${own.length > 3 ? ' …' : ''}.`,
            'Retire it, and they stay; or remove them first.',
          );
      },
    });
  }

  async spools(): Promise<SpoolView[]> {
    const rows = await this.db.query.spools.findMany({ orderBy: asc(spools.createdAt) });
    const said = await this.db
      .select()
      .from(spoolEntries)
      // what was taken before it was weighed is in what it weighed, whenever it was said
      .orderBy(asc(spoolEntries.at), asc(sql`rowid`));
    const withdrawn = await this.prints.withdrawn();
    const kinds = new Map((await this.materials()).map((m) => [m.id, m]));
    return rows.map(({ createdAt: _, ...row }) => {
      // what was taken for a print whose entry was taken back was not taken
      const entries = said.filter((e) => e.spoolId === row.id && !withdrawn.has(e.logEntryId ?? ''));
      const leftG = gramsLeft(row, entries);
      const material = kinds.get(row.materialId);
      return {
        ...row,
        leftG,
        leftM:
          material?.kind === 'filament'
            ? metresOf(leftG, figures.filamentDiameterMm.value, material.densityGCm3)
            : null,
        entries: entries.map(({ spoolId: _s, logEntryId: _l, ...e }) => e).reverse(),
      };
    });
  }

  /** Names of materials by the entries of the print log with which a spool was named. */
  async materialsSaid(): Promise<Map<string, string>> {
    const rows = await this.db
      .select({ entry: spoolEntries.logEntryId, material: materials.name })
      .from(spoolEntries)
      .innerJoin(spools, eq(spools.id, spoolEntries.spoolId))
      .innerJoin(materials, eq(materials.id, spools.materialId));
    return new Map(rows.flatMap(({ entry, material }) => (entry === null ? [] : [[entry, material]])));
  }

  private async spool(id: string): Promise<SpoolView> {
    const found = (await this.spools()).find((s) => s.id === id);
    if (!found) throw Refusal.notFound('spool', id);
    return found;
  }

  async addSpool(spool: SpoolRow): Promise<SpoolView> {
    const id = randomUUID();
    await this.writer.commit('workshop', [this.db.insert(spools).values({ id, ...spool, createdAt: now() })], {
      holds: this.holds(materials, 'material', spool.materialId),
    });
    return this.spool(id);
  }

  async changeSpool(id: string, spool: SpoolRow): Promise<SpoolView> {
    const { endedAt } = await this.spool(id);
    // the day on which it ended stays
    const set = { ...spool, endedAt: spool.endedAt === null ? null : (endedAt ?? spool.endedAt) };
    await this.writer.commit('workshop', [this.db.update(spools).set(set).where(eq(spools.id, id))], {
      holds: async () => {
        await this.holds(spools, 'spool', id)();
        await this.holds(materials, 'material', spool.materialId)();
      },
    });
    return this.spool(id);
  }

  async removeSpool(id: string): Promise<void> {
    await this.remove(spools, 'spool', id);
  }

  async addSpoolEntry(spoolId: string, entry: Omit<SpoolEntryView, 'id' | 'at'>): Promise<SpoolView> {
    await this.writer.commit('workshop', [this.spoolStatement(spoolId, entry)], {
      holds: this.holds(spools, 'spool', spoolId),
    });
    return this.spool(spoolId);
  }

  /** The statement that says what a spool weighed, or what was taken from it. @param of the entry of the print log that says so */
  spoolStatement(
    spoolId: string,
    entry: Omit<SpoolEntryView, 'id' | 'at'>,
    of: { id: string; at: string } | null = null,
  ): Statement {
    const [logEntryId, at] = of ? [of.id, of.at] : [null, now()];
    return this.db.insert(spoolEntries).values({ id: randomUUID(), spoolId, ...entry, logEntryId, at });
  }

  /** @throws Refusal `not-found` */
  async mustHaveSpool(id: string): Promise<void> {
    await this.holds(spools, 'spool', id)();
  }

  async savedBodies(): Promise<SavedBodyView[]> {
    const rows = await this.db.query.savedBodies.findMany({ orderBy: asc(savedBodies.createdAt) });
    return rows.map(({ createdAt: _, ...view }) => view);
  }

  async addBody(body: Omit<SavedBodyView, 'id'>): Promise<SavedBodyView> {
    const row = { id: randomUUID(), ...body };
    await this.writer.commit('workshop', [this.db.insert(savedBodies).values({ ...row, createdAt: now() })]);
    return row;
  }

  async changeBody(id: string, body: Omit<SavedBodyView, 'id'>): Promise<SavedBodyView> {
    await this.writer.commit('workshop', [this.db.update(savedBodies).set(body).where(eq(savedBodies.id, id))], {
      holds: this.holds(savedBodies, 'body', id),
    });
    return { id, ...body };
  }

  async removeBody(id: string): Promise<void> {
    await this.remove(savedBodies, 'body', id);
  }

  async settings(): Promise<Settings> {
    const row = await this.db.query.settings.findFirst({ where: eq(settings.id, 'workshop') });
    return codecs.setting.read(row?.value);
  }

  async changeSettings(value: Settings): Promise<Settings> {
    const row = { id: 'workshop', value: { ...value } };
    await this.writer.commit('workshop', [
      this.db
        .insert(settings)
        .values(row)
        .onConflictDoUpdate({ target: settings.id, set: { value: row.value } }),
    ]);
    return this.settings();
  }

  async places(): Promise<PlaceView[]> {
    return this.db.select(placeFields).from(places).orderBy(asc(places.createdAt));
  }

  async addPlace(place: Omit<PlaceView, 'id'>): Promise<PlaceView> {
    const row = { id: randomUUID(), ...place };
    await this.writer.commit('workshop', [this.db.insert(places).values({ ...row, createdAt: now() })]);
    return row;
  }

  async changePlace(id: string, place: Omit<PlaceView, 'id'>): Promise<PlaceView> {
    await this.writer.commit('workshop', [this.db.update(places).set(place).where(eq(places.id, id))], {
      holds: this.holds(places, 'place', id),
    });
    return { id, ...place };
  }

  async removePlace(id: string): Promise<void> {
    await this.remove(places, 'place', id);
  }

  private async remove(table: Kept, what: string, id: string): Promise<void> {
    await this.writer.commit('workshop', [this.db.delete(table).where(eq(table.id, id))], {
      holds: this.holds(table, what, id),
    });
  }

  /** Refuses a change of what is no longer there. */
  private holds(table: Kept, what: string, id: string) {
    return async (): Promise<void> => {
      const rows = await this.db.select({ id: table.id }).from(table).where(eq(table.id, id));
      if (rows.length === 0) throw Refusal.notFound(what, id);
    };
  }

  /** Puts example places into a store that nothing was ever put into. */
  async furnish(): Promise<void> {
    const [first] = await this.db.select({ id: projects.id }).from(projects).limit(1);
    const [place] = await this.db.select({ id: places.id }).from(places).limit(1);
    if (first || place) return;
    const start = Date.now();
    const rows = examplePlaces.map((p, i) => ({
      id: randomUUID(),
      ...p,
      createdAt: new Date(start + i).toISOString(),
    }));
    await this.writer.commit('workshop', [this.db.insert(places).values(rows)]);
  }
}
