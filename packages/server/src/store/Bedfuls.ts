import { and, asc, eq, inArray, isNull } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { BedfulsView, BedfulView } from '@jasmorphe/contracts/dayViews';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import { ApiError } from '../http/ApiError.ts';
import { bedfulView, changedSince, keptParts, type BedfulRow } from './bedfulViews.ts';
import type { BodyViews } from './BodyViews.ts';
import { chunked } from './chunked.ts';
import type { Reading } from './database.ts';
import type { LogRowInForce, PrintLog } from './PrintLog.ts';
import { bedfuls, type KeptPart } from './schema.ts';
import type { Workshop } from './Workshop.ts';
import type { Writer } from './Writer.ts';

/** Rows to be made, and ids of those in whose place they come. */
interface Arrangement {
  rows: BedfulRow[];
  ended: string[];
}

/** What goes on which bed, as it was decided. */
export class Bedfuls {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly views: BodyViews,
    private readonly workshop: Workshop,
    private readonly prints: PrintLog,
  ) {}

  /** Bedfuls in force of some models. */
  async rowsOf(modelIds: readonly string[]): Promise<BedfulRow[]> {
    return chunked(modelIds, (some) =>
      this.db
        .select()
        .from(bedfuls)
        .where(and(inArray(bedfuls.modelId, some), isNull(bedfuls.endedBy)))
        .orderBy(asc(bedfuls.modelId), asc(bedfuls.number)),
    );
  }

  /** All that are in force, whatever project they are of. */
  async allRows(): Promise<BedfulRow[]> {
    return this.db
      .select()
      .from(bedfuls)
      .where(isNull(bedfuls.endedBy))
      .orderBy(asc(bedfuls.createdAt), asc(bedfuls.number));
  }

  /** Bedfuls as they are now, by what is in force of their parts and what was said of their prints. */
  async told(
    rows: readonly BedfulRow[],
    bodies?: ReadonlyMap<string, BodyView | Error>,
    entries?: readonly LogRowInForce[],
  ): Promise<BedfulView[]> {
    const modelIds = [...new Set(rows.map((r) => r.modelId))];
    const views = bodies ?? (await this.views.viewsOf(modelIds));
    const log = entries ?? (await this.prints.inForceOf(modelIds));
    const printers = await this.workshop.printers();
    return rows.map((row) => {
      const view = views.get(row.modelId);
      const parts = view && !(view instanceof Error) ? view.parts : [];
      return bedfulView(
        row,
        parts,
        log.filter((e) => e.modelId === row.modelId),
        printers.find((p) => p.id === row.printerId && p.retiredAt === null),
      );
    });
  }

  /** One bedful with its row. @throws ApiError `not-found` */
  async one(id: string): Promise<{ row: BedfulRow; view: BedfulView }> {
    const [row] = await this.db.select().from(bedfuls).where(eq(bedfuls.id, id));
    if (!row || row.endedBy !== null) throw ApiError.notFound('bedful', id);
    const [view] = await this.told([row]);
    return { row, view };
  }

  async ofModel(modelId: string): Promise<BedfulsView> {
    const rows = await this.rowsOf([modelId]);
    const told = await this.told(rows);
    const last = await this.lastArrangement(modelId);
    const sent = told.some((b, i) => rows[i].arrangement === last && b.state !== 'waiting');
    return { bedfuls: told, canUndo: last !== null && !sent };
  }

  /** The last arrangement of a model: it made rows, ended some, or both. */
  private async lastArrangement(modelId: string): Promise<string | null> {
    const rows = await this.db
      .select({ made: bedfuls.arrangement, ended: bedfuls.endedBy })
      .from(bedfuls)
      .where(eq(bedfuls.modelId, modelId));
    const all = rows.flatMap((r) => (r.ended === null ? [r.made] : [r.made, r.ended])).sort();
    return all.at(-1) ?? null;
  }

  /**
   * Makes bedfuls that were worked out those that count. They take the place of those of the same kind that wait; what
   * was sent stays. One that holds what another held keeps its number and its day.
   *
   * @throws ApiError 409 where parts changed meanwhile, or overlap
   */
  async keep(modelId: string, step: StepOf<'bedfuls'>): Promise<void> {
    const { rows, ended } = await this.arrange(modelId, step);
    const shape = ({ rows: made, ended: gone }: Arrangement): string =>
      JSON.stringify([made.map((r) => [r.number, r.wantedAt]), gone]);
    const known = shape({ rows, ended });
    await this.writer.commit(
      'bedfuls',
      [
        ...(ended.length > 0
          ? [this.db.update(bedfuls).set({ endedBy: rows[0].arrangement }).where(inArray(bedfuls.id, ended))]
          : []),
        ...rows.map((row) => this.db.insert(bedfuls).values(row)),
      ],
      {
        bodies: [modelId],
        meshes: rows.flatMap((r) => r.parts.map((p) => p.mesh)),
        // while nothing else is written it is looked once more whether all of it still holds
        holds: async () => {
          if (shape(await this.arrange(modelId, step)) !== known) throw changedSince('Other bedfuls were kept');
        },
      },
    );
  }

  /** The rows that an arrangement would make, and ids of those in whose place they would come. */
  private async arrange(modelId: string, step: StepOf<'bedfuls'>): Promise<Arrangement> {
    const view = await this.views.view(modelId);
    const there = await this.rowsOf([modelId]);
    const told = await this.told(there);
    const printers = (await this.workshop.printers()).filter((p) => p.retiredAt === null);
    const drafts = step.report.bedfuls
      .filter((b) => b.parts.length > 0)
      .map((b) => {
        const printer = printers.find((p) => p.profile.name === b.printer);
        if (!printer) throw changedSince(`The printer ${b.printer} is gone`);
        return { b, printer, parts: keptParts(b, step, view, printer.profile.kind) };
      });
    if (drafts.length === 0) throw new ApiError(409, 'cannot', 'There is nothing on these beds.', '', 'stepId');
    const kinds = new Set(drafts.map((d) => d.printer.profile.kind));
    const waiting = there.filter((r, i) => told[i].state === 'waiting' && kinds.has(r.kind));
    const ended = waiting.map((r) => r.id);
    const held = (parts: readonly KeptPart[]): string =>
      parts
        .map((p) => p.mesh)
        .sort()
        .join();
    const before = new Map(waiting.map((r) => [`${r.printerId} ${held(r.parts)}`, r]));
    const continued = drafts.map(({ parts, printer }) => before.get(`${printer.id} ${held(parts)}`) ?? null);
    const taken = new Set(
      [...there.filter((r) => !ended.includes(r.id)), ...continued].flatMap((r) => (r ? [r.number] : [])),
    );
    const at = new Date().toISOString();
    const arrangement = `${at} ${randomUUID()}`;
    let next = 1;
    const rows = drafts.map(({ b, printer, parts }, i): BedfulRow => {
      while (taken.has(next)) next++;
      const number = continued[i]?.number ?? next;
      taken.add(number);
      return {
        id: randomUUID(),
        projectId: view.projectId,
        modelId,
        number,
        kind: printer.profile.kind,
        printerId: printer.id,
        printerName: printer.profile.name,
        bedMm: b.bedMm,
        parts,
        inTurn: b.inTurn,
        fillPct: b.fillPct,
        durationS: b.durationS,
        materialG: b.materialG,
        wantedAt: continued[i]?.wantedAt ?? null,
        arrangement,
        endedBy: null,
        createdAt: at,
      };
    });
    return { rows, ended };
  }

  /** Takes the last arrangement back: those before it count again. @throws ApiError 409 where one of it was sent */
  async undo(modelId: string): Promise<void> {
    const last = await this.lastArrangement(modelId);
    const holds = async (): Promise<void> => {
      if (last === null) throw new ApiError(409, 'nothing-to-undo', 'There is nothing to undo.', '');
      if ((await this.lastArrangement(modelId)) !== last || !(await this.ofModel(modelId)).canUndo)
        throw new ApiError(409, 'cannot', 'One of these bedfuls was sent already.', 'What was sent stays.');
    };
    await holds();
    await this.writer.commit(
      'bedfuls',
      [
        this.db.delete(bedfuls).where(and(eq(bedfuls.modelId, modelId), eq(bedfuls.arrangement, last!))),
        this.db
          .update(bedfuls)
          .set({ endedBy: null })
          .where(and(eq(bedfuls.modelId, modelId), eq(bedfuls.endedBy, last!))),
      ],
      { bodies: [modelId], holds },
    );
  }

  /** Takes a bedful that waits apart; undo brings it back. @throws ApiError 409 where it was sent */
  async remove(id: string): Promise<BedfulRow> {
    const { row } = await this.one(id);
    const set = { endedBy: `${new Date().toISOString()} ${randomUUID()}` };
    await this.writer.commit('bedful', [this.db.update(bedfuls).set(set).where(eq(bedfuls.id, id))], {
      holds: () => this.mustWait(id),
    });
    return row;
  }

  async want(id: string, wantedAt: string | null): Promise<BedfulView> {
    await this.writer.commit('bedful', [this.db.update(bedfuls).set({ wantedAt }).where(eq(bedfuls.id, id))], {
      holds: () => this.mustWait(id),
    });
    return (await this.one(id)).view;
  }

  /** @throws ApiError 409 where it was sent already */
  async mustWait(id: string): Promise<void> {
    const { view } = await this.one(id);
    if (view.state !== 'waiting')
      throw new ApiError(409, 'cannot', `Bedful ${view.number} was sent already.`, 'What was sent stays as it is.');
  }
}
