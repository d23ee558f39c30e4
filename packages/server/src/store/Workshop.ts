import { asc, eq } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { MaterialView, PlaceView, PrinterView } from '@jasmorphe/contracts/views';
import { readKept } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { examplePlaces } from '@jasmorphe/core/trade/placeKinds';
import { ApiError } from '../http/ApiError.ts';
import type { Reading } from './database.ts';
import { materials, places, printers, projects } from './schema.ts';
import type { Writer } from './Writer.ts';

const now = (): string => new Date().toISOString();

const placeFields = {
  id: places.id,
  name: places.name,
  kind: places.kind,
  widthMm: places.widthMm,
  depthMm: places.depthMm,
  heightMm: places.heightMm,
};

/** The maker's printers, materials and places. */
export class Workshop {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {}

  async printers(): Promise<PrinterView[]> {
    const rows = await this.db.query.printers.findMany({ orderBy: asc(printers.createdAt) });
    return rows.map(({ id, profile }) => ({ id, profile: readKept(PrinterProfile, profile) }));
  }

  async addPrinter(profile: PrinterProfile): Promise<PrinterView> {
    const row = { id: randomUUID(), profile: { ...profile } };
    await this.writer.commit('workshop', [this.db.insert(printers).values({ ...row, createdAt: now() })]);
    return row;
  }

  async removePrinter(id: string): Promise<void> {
    const there = () => this.db.query.printers.findFirst({ where: eq(printers.id, id) });
    await this.writer.commit('workshop', [this.db.delete(printers).where(eq(printers.id, id))], {
      holds: holdsWhile(there, 'printer', id),
    });
  }

  async materials(): Promise<MaterialView[]> {
    return this.db.query.materials.findMany({ orderBy: asc(materials.createdAt) });
  }

  async addMaterial(material: Omit<MaterialView, 'id'>): Promise<MaterialView> {
    const row = { id: randomUUID(), ...material, createdAt: now() };
    await this.writer.commit('workshop', [this.db.insert(materials).values(row)]);
    return row;
  }

  async removeMaterial(id: string): Promise<void> {
    const there = () => this.db.query.materials.findFirst({ where: eq(materials.id, id) });
    await this.writer.commit('workshop', [this.db.delete(materials).where(eq(materials.id, id))], {
      holds: holdsWhile(there, 'material', id),
    });
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
      holds: this.placeHolds(id),
    });
    return { id, ...place };
  }

  async removePlace(id: string): Promise<void> {
    await this.writer.commit('workshop', [this.db.delete(places).where(eq(places.id, id))], {
      holds: this.placeHolds(id),
    });
  }

  private placeHolds(id: string) {
    return holdsWhile(() => this.db.query.places.findFirst({ where: eq(places.id, id) }), 'place', id);
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

/** Refuses a change of what is no longer there. */
const holdsWhile = (there: () => Promise<unknown>, what: string, id: string) => async (): Promise<void> => {
  if (!(await there())) throw ApiError.notFound(what, id);
};
