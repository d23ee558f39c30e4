import { and, eq, inArray } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import type { KitView, PieceView } from '@jasmorphe/contracts/kitViews';
import { findingsOfBody } from '@jasmorphe/contracts/reading/findings';
import { isStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import { frameOf, sideBySide, unionOf, type PieceBox } from '@jasmorphe/core/kit/frame';
import { kitUnit } from '@jasmorphe/core/kit/kitUnit';
import { variantGroups } from '@jasmorphe/core/kit/variants';
import { catalogue, descriptionOf } from '@jasmorphe/core/operations/catalogue';
import { stops, type Stop } from '@jasmorphe/core/operations/Description';
import { forbidsAltered, termsOf, type LicenceId } from '@jasmorphe/core/trade/licences';
import { countOf } from '@jasmorphe/core/words/numbers';
import { isBegun, isPrinted } from '@jasmorphe/core/planning/printState';
import { log } from '../log.ts';
import { Refusal } from './Refusal.ts';
import type { Batches } from './Batches.ts';
import type { BodyViews } from './BodyViews.ts';
import { isOneOf } from './named.ts';
import type { Reading } from './database.ts';
import { models, projects, variantChoices, type SourceWords } from './schema.ts';
import type { Writer } from './Writer.ts';

/** What may be said of a piece. */
export interface PieceChange {
  name?: string;
  copies?: number;
  colour?: string;
  aside?: string | null;
  licence?: string;
  terms?: LicenceId;
  source?: Partial<SourceWords>;
}

/** A project or a piece of it: what it is called, whence it is and its terms. */
export interface Work {
  name: string;
  source: Partial<SourceWords>;
  terms: LicenceId;
  licence: string;
}

const vector = ({ x, y, z }: { x: number; y: number; z: number }): [number, number, number] => [x, y, z];

/** A piece's file within its kit; one that came alone has its name. */
const pathOf = ({ path, sourceName }: { path: string; sourceName: string }): string => path || sourceName;

/** The last stop of the route at which something was done to it. */
function stopOf(view: BodyView): Stop {
  if (view.parts.some(isBegun)) return 'print';
  let last = 0;
  for (const { operation } of view.line.slice(0, view.cursor))
    last = Math.max(last, stops.indexOf(descriptionOf(operation).stop ?? 'intake'));
  return stops[last];
}

/** How a piece's file was read. */
const readOf = (view: BodyView) => {
  const [first] = view.line;
  return first && isStepOf(first, catalogue.import) ? first.report : null;
};

function pieceOf(view: BodyView, project: { terms: LicenceId; licence: string }): PieceView {
  const { facts, hash, triangles } = view.mesh;
  const open = findingsOfBody(view, null).filter((f) => f.aside === null);
  const read = readOf(view);
  return {
    id: view.id,
    name: view.name,
    path: pathOf(view),
    copies: view.copies,
    colour: view.colour,
    aside: view.aside,
    meshHash: hash,
    triangles,
    min: facts.min,
    max: facts.max,
    size: facts.size,
    watertight: facts.watertight,
    worst: open[0] ?? null,
    findings: open.length,
    stop: stopOf(view),
    parts: view.parts.length,
    printed: view.parts.filter(isPrinted).length,
    unit: read?.unit ?? 'mm',
    unitFrom: read?.unitFrom ?? 'given',
    keptBack: forbidsAltered(termsOf(view, project)),
    busyJobId: view.busyJobId,
  };
}

/**
 * What a decision about several forms of a thing is kept under. It is about these files: one more, and it is open again;
 * packed and unpacked it still stands.
 */
const choiceKey = (paths: readonly string[]): string =>
  createHash('sha256')
    .update([...paths].sort().join('\n'))
    .digest('hex')
    .slice(0, 32);

/** All pieces of a project as one job. */
export class Kits {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly views: BodyViews,
    private readonly batches: Batches,
  ) {}

  async kit(projectId: string): Promise<KitView> {
    const mine = (await this.views.allModels()).filter((m) => m.projectId === projectId);
    const found = await this.views.viewsOf(mine.map((m) => m.id));
    const whole: BodyView[] = [];
    let unreadable = 0;
    for (const { id } of mine) {
      const view = found.get(id);
      // one bad row must not take the others away
      if (view instanceof Error) {
        log.error(view, `A piece of project ${projectId} cannot be read`);
        unreadable++;
      } else if (view) whole.push(view);
    }
    const work = await this.work(projectId);
    const pieces = whole.map((view) => pieceOf(view, work));
    const read = whole.flatMap((v) => {
      const report = readOf(v);
      return report ? [{ id: v.id, name: v.name, fileSize: report.fileSize, fileUnit: report.fileUnit, report }] : [];
    });
    const unit = read.length > 1 ? kitUnit(read) : null;
    const byId = new Map(pieces.map((p) => [p.id, p]));
    const boxes = new Map<string, PieceBox>(pieces.map((p) => [p.id, { min: vector(p.min), max: vector(p.max) }]));
    const printed = pieces.filter((p) => p.aside === null);
    const frame = frameOf((printed.length > 0 ? printed : pieces).map((p) => boxes.get(p.id)!));
    const decided = new Set(
      (
        await this.db
          .select({ key: variantChoices.key })
          .from(variantChoices)
          .where(
            isOneOf(
              variantChoices.bodyId,
              mine.map((m) => m.id),
            ),
          )
      ).map((d) => d.key),
    );
    return {
      projectId,
      pieces,
      variants: variantGroups(
        pieces.map((p) => ({ id: p.id, path: p.path, ...boxes.get(p.id)! })),
        frame.shared,
      ).map((g) => ({
        ...g,
        decided:
          decided.has(choiceKey(g.ids.map((id) => byId.get(id)!.path))) ||
          g.ids.some((id) => byId.get(id)!.aside !== null),
      })),
      unit,
      oddUnits: unit
        ? read.filter((r) => r.report.unitFrom === 'guess' && r.report.unit !== unit.unit).map((r) => r.id)
        : [],
      frame,
      moves: movesOf(
        pieces.map((p) => boxes.get(p.id)!),
        frame.shared,
      ),
      trouble:
        unreadable === 0 ? null : `${countOf(unreadable, 'piece')} cannot be read. "jasmorphe doctor" tells more.`,
      batches: await this.batches.ofProject(projectId),
    };
  }

  /** @throws Refusal `not-found` */
  async change(id: string, change: PieceChange): Promise<void> {
    const given = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
    if (Object.keys(given).length === 0) return;
    await this.writer.commit('piece', [this.db.update(models).set(given).where(eq(models.id, id))], { bodies: [id] });
  }

  /**
   * Decides which of several forms of a thing is printed; without a choice all of them are.
   *
   * @throws Refusal where one of them is no piece of the project
   */
  async choose(projectId: string, ids: readonly string[], chosen: string | undefined): Promise<void> {
    const rows = await this.db.query.models.findMany({
      where: and(eq(models.projectId, projectId), inArray(models.id, [...ids])),
    });
    const lost = ids.find((id) => !rows.some((r) => r.id === id));
    if (lost !== undefined) throw Refusal.notFound('piece', lost);
    if (chosen !== undefined && !ids.includes(chosen))
      throw new Refusal('request', 'bad-params', 'The one that is chosen is none of the group.', '', 'chosen');
    const kept = rows.find((r) => r.id === chosen);
    const aside = kept ? `${kept.name} is printed instead`.slice(0, 400) : null;
    const at = new Date().toISOString();
    const key = choiceKey(rows.map(pathOf));
    const [first] = ids;
    await this.writer.commit(
      'variant',
      [
        ...rows.map((r) =>
          this.db
            .update(models)
            .set({ aside: r.id === chosen ? null : aside })
            .where(eq(models.id, r.id)),
        ),
        this.db
          .delete(variantChoices)
          .where(and(inArray(variantChoices.bodyId, [...ids]), eq(variantChoices.key, key))),
        ...(kept ? [] : [this.db.insert(variantChoices).values({ bodyId: first, key, at })]),
      ],
      { bodies: [...ids] },
    );
  }

  /** Files of a project's pieces, to know them again. */
  async files(projectId: string): Promise<{ id: string; name: string; path: string; sourceHash: string }[]> {
    const rows = await this.db.query.models.findMany({ where: eq(models.projectId, projectId) });
    return rows.map((row) => ({ id: row.id, name: row.name, path: pathOf(row), sourceHash: row.sourceHash }));
  }

  /** What a project is called, whence it is and its terms, which hold for its pieces without their own. */
  async work(projectId: string): Promise<Work> {
    const row = await this.db.query.projects.findFirst({
      columns: { name: true, source: true, terms: true, licence: true },
      where: eq(projects.id, projectId),
    });
    if (!row) throw Refusal.notFound('project', projectId);
    return row;
  }
}

/** How far pieces are moved when they are shown together. */
function movesOf(boxes: readonly PieceBox[], shared: boolean): [number, number, number][] {
  if (boxes.length === 0) return [];
  if (shared) {
    const { min } = unionOf(boxes);
    // on the bed, where else they stand as the files have them
    return boxes.map(() => [0, 0, -min[2]]);
  }
  return sideBySide(boxes);
}
