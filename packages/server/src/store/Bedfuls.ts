import { and, asc, eq, inArray, isNull, or, sql, type SQL } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { BedfulsView, BedfulView } from '@jasmorphe/contracts/dayViews';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { Refusal } from './Refusal.ts';
import { bedfulView, changedSince, keptParts, modelOf, modelsOf, type BedfulRow } from './bedfulViews.ts';
import type { BodyViews } from './BodyViews.ts';
import type { Reading } from './database.ts';
import { isNamed, rowsOf } from './named.ts';
import type { LogRowInForce, PrintLog } from './PrintLog.ts';
import { bedfuls, projects, type KeptPart } from './schema.ts';
import type { Workshop } from './Workshop.ts';
import type { Writer } from './Writer.ts';

/** Rows to be made, and ids of those in whose place they come. */
interface Arrangement {
  rows: BedfulRow[];
  ended: string[];
}

/** What was arranged at once. A copy of a project has the same arrangements, of bedfuls of its own. */
interface Arranged {
  arrangement: string;
  projectId: string;
}

const madeBy = ({ arrangement, projectId }: Arranged): SQL =>
  and(eq(bedfuls.projectId, projectId), eq(bedfuls.arrangement, arrangement))!;
const endedBy = ({ arrangement, projectId }: Arranged): SQL =>
  and(eq(bedfuls.projectId, projectId), eq(bedfuls.endedBy, arrangement))!;

/** Bedfuls that hold a part of one of the models that are named. */
const holdsNamed: SQL = or(
  isNamed(bedfuls.modelId),
  sql`exists (select 1 from json_each(${bedfuls.parts}) held where ${isNamed(sql`json_extract(held.value, '$.of.model')`)})`,
)!;

const queriesOf = (db: Reading) => ({
  holding: db
    .select()
    .from(bedfuls)
    .where(and(holdsNamed, isNull(bedfuls.endedBy)))
    .orderBy(asc(bedfuls.modelId), asc(bedfuls.number))
    .prepare(),
  /** of all that ever held parts of them */
  arrangements: db
    .select({ projectId: bedfuls.projectId, made: bedfuls.arrangement, ended: bedfuls.endedBy })
    .from(bedfuls)
    .where(holdsNamed)
    .prepare(),
  all: db
    .select()
    .from(bedfuls)
    .where(isNull(bedfuls.endedBy))
    .orderBy(asc(bedfuls.createdAt), asc(bedfuls.number))
    .prepare(),
  named: db.select().from(bedfuls).where(isNamed(bedfuls.id)).prepare(),
});

/** What goes on which bed, as it was decided. */
export class Bedfuls {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly views: BodyViews,
    private readonly workshop: Workshop,
    private readonly prints: PrintLog,
  ) {
    this.queries = queriesOf(db);
  }

  /** Bedfuls in force that hold parts of some models. */
  async rowsOf(modelIds: readonly string[]): Promise<BedfulRow[]> {
    return rowsOf(this.queries.holding, modelIds);
  }

  /** All that are in force, whatever project they are of. */
  async allRows(): Promise<BedfulRow[]> {
    return this.queries.all.execute();
  }

  /** Bedfuls as they are now, by what is in force of their parts and what was said of their prints. */
  async told(
    rows: readonly BedfulRow[],
    bodies?: ReadonlyMap<string, BodyView | Error>,
    entries?: readonly LogRowInForce[],
  ): Promise<BedfulView[]> {
    const modelIds = [...new Set(rows.flatMap(modelsOf))];
    const views = bodies ?? (await this.views.viewsOf(modelIds));
    const log = entries ?? (await this.prints.inForceOf(modelIds));
    const printers = await this.workshop.printers();
    const viewOf = (id: string): BodyView | null => {
      const view = views.get(id);
      return view && !(view instanceof Error) ? view : null;
    };
    const partsOf = (id: string) => viewOf(id)?.parts ?? [];
    return rows.map((row) => {
      const own = modelsOf(row);
      const told = bedfulView(
        row,
        partsOf,
        log.filter((e) => e.modelId !== null && own.includes(e.modelId)),
        printers.find((p) => p.id === row.printerId && p.retiredAt === null),
      );
      return { ...told, colour: own.map(viewOf).find((v) => v !== null)?.colour ?? '' };
    });
  }

  /** One bedful with its row. @throws Refusal `not-found` */
  /** Refuses where another bedful than the one given is on the bed of a printer. @throws Refusal `cannot`, with whose it is and what to do */
  async mustBeFree(printerId: string, but: string | null): Promise<void> {
    const all = await this.told(await this.allRows());
    const on = all.find((o) => o.state === 'printing' && o.printerId === printerId && o.id !== but);
    if (!on) return;
    const [project] = await this.db.select({ name: projects.name }).from(projects).where(eq(projects.id, on.projectId));
    throw new Refusal(
      'state',
      'cannot',
      `Bedful ${on.number} of ${project?.name ?? 'another project'} is on the bed of ${on.printer}.`,
      'Say first what became of it: at Print of that project, or under Days. Or move this one to another printer.',
    );
  }

  async one(id: string): Promise<{ row: BedfulRow; view: BedfulView }> {
    const [row] = await rowsOf(this.queries.named, [id]);
    if (!row || row.endedBy !== null) throw Refusal.notFound('bedful', id);
    const [view] = await this.told([row]);
    return { row, view };
  }

  async ofModel(modelId: string): Promise<BedfulsView> {
    const rows = await this.rowsOf([modelId]);
    const told = await this.told(rows);
    const last = await this.lastArrangement(modelId);
    return { bedfuls: told, canUndo: last !== null && (await this.stands(last)) };
  }

  /** The last arrangement of a model: it made rows that hold parts of it, ended some, or both. */
  private async lastArrangement(modelId: string): Promise<Arranged | null> {
    const rows = await rowsOf(this.queries.arrangements, [modelId]);
    const all = rows.flatMap((r) => (r.ended === null ? [r.made] : [r.made, r.ended])).sort();
    const last = all.at(-1);
    return last === undefined ? null : { arrangement: last, projectId: rows[0].projectId };
  }

  /** Rows that an arrangement made or ended. */
  private async touchedBy(last: Arranged): Promise<BedfulRow[]> {
    return this.db
      .select()
      .from(bedfuls)
      .where(or(madeBy(last), endedBy(last)));
  }

  /** Is an arrangement the last of all models that it is about, and do all its bedfuls still wait? */
  private async stands(last: Arranged): Promise<boolean> {
    const rows = await this.touchedBy(last);
    for (const id of new Set(rows.flatMap(modelsOf)))
      if ((await this.lastArrangement(id))?.arrangement !== last.arrangement) return false;
    const made = rows.filter((r) => r.arrangement === last.arrangement);
    return (await this.told(made)).every((b) => b.state === 'waiting');
  }

  /**
   * Makes bedfuls that were worked out those that count. They take the place of those of the same kind that wait; what
   * was sent stays. One that holds what another held keeps its number and its day.
   *
   * @returns ids of the models that they hold parts of
   * @throws Refusal where parts changed meanwhile, or overlap, or a bedful that would go holds parts of another model too
   */
  async keep(modelId: string, step: StepOf<'bedfuls'>): Promise<string[]> {
    const { rows, ended } = await this.arrange(modelId, step);
    const models = [...new Set([modelId, ...rows.flatMap(modelsOf)])];
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
        bodies: models,
        meshes: rows.flatMap((r) => r.parts.map((p) => p.mesh)),
        // while nothing else is written it is looked once more whether all of it still holds
        holds: async () => {
          if (shape(await this.arrange(modelId, step)) !== known) throw changedSince('Other bedfuls were kept');
        },
      },
    );
    return models;
  }

  /** The models whose parts bedfuls were worked out for. @throws Refusal where one is gone, or of another project */
  private async modelsFor(modelId: string, { params }: StepOf<'bedfuls'>): Promise<Map<string, BodyView>> {
    const ids = [...new Set([modelId, ...params.parts.flatMap((p) => p.of?.model ?? [])])];
    const views = await this.views.viewsOf(ids);
    const own = await this.views.view(modelId);
    return new Map(
      ids.map((id) => {
        const view = views.get(id);
        if (!view || view instanceof Error || view.projectId !== own.projectId)
          throw changedSince('A model is gone, or went to another project,');
        return [id, view];
      }),
    );
  }

  /** The rows that an arrangement would make, and ids of those in whose place they would come. */
  private async arrange(modelId: string, step: StepOf<'bedfuls'>): Promise<Arrangement> {
    const views = await this.modelsFor(modelId, step);
    const there = await this.rowsOf([...views.keys()]);
    const told = await this.told(there);
    const printers = (await this.workshop.printers()).filter((p) => p.retiredAt === null);
    const drafts = step.report.bedfuls
      .filter((b) => b.parts.length > 0)
      .map((b) => {
        const printer = printers.find((p) => p.profile.name === b.printer);
        if (!printer) throw changedSince(`The printer ${b.printer} is gone`);
        return { b, printer, parts: keptParts(b, step, views, modelId, printer.profile.kind) };
      });
    const all = drafts.flatMap((d) => d.parts);
    const twice = all.find((p, i) => all.findIndex((q) => q.partId === p.partId) < i);
    if (twice)
      throw new Refusal('state', 'cannot', `${twice.tag} would lie on two beds.`, 'Nothing was kept.', 'stepId');
    if (drafts.length === 0) throw new Refusal('state', 'cannot', 'There is nothing on these beds.', '', 'stepId');
    const kinds = new Set(drafts.map((d) => d.printer.profile.kind));
    const waiting = there.filter((r, i) => told[i].state === 'waiting' && kinds.has(r.kind));
    const shared = told.find(
      (b) =>
        b.state === 'waiting' &&
        kinds.has(b.kind) &&
        // what is there no more is torn from nothing
        b.parts.some((p) => !views.has(p.modelId) && p.trouble !== 'gone'),
    );
    if (shared)
      throw new Refusal(
        'state',
        'cannot',
        `Bedful ${shared.number} holds parts of another model too, which were not put on a bed.`,
        'Plan the models together, or take that bedful apart first.',
        'stepId',
      );
    const ended = waiting.map((r) => r.id);
    const held = (row: { modelId: string; parts: readonly KeptPart[] }): string =>
      row.parts
        .map((p) => `${modelOf(row, p)} ${p.mesh}`)
        .sort()
        .join();
    const before = new Map(waiting.map((r) => [`${r.printerId} ${held(r)}`, r]));
    const continued = drafts.map(
      ({ parts, printer }) => before.get(`${printer.id} ${held({ modelId, parts })}`) ?? null,
    );
    // bedfuls of models that were planned apart may have one number
    const numbers = continued.map((r, i) =>
      r && continued.findIndex((c) => c?.number === r.number) === i ? r.number : null,
    );
    const taken = new Set(
      [...there.filter((r) => !ended.includes(r.id)).map((r) => r.number), ...numbers].filter((n) => n !== null),
    );
    const at = new Date().toISOString();
    const arrangement = `${at} ${randomUUID()}`;
    let next = 1;
    const rows = drafts.map(({ b, printer, parts }, i): BedfulRow => {
      while (taken.has(next)) next++;
      const number = numbers[i] ?? next;
      taken.add(number);
      return {
        id: randomUUID(),
        projectId: views.get(modelId)!.projectId,
        // one of its own, where it holds no part of the model that they were planned from
        modelId: parts.some((p) => modelOf({ modelId }, p) === modelId) ? modelId : modelOf({ modelId }, parts[0]),
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

  /**
   * Takes the last arrangement back, for all models that it was made for: bedfuls before it count again.
   *
   * @returns ids of those models
   * @throws Refusal where one of it was sent, or is not in force any more
   */
  async undo(modelId: string): Promise<string[]> {
    const last = await this.lastArrangement(modelId);
    const stands = async (): Promise<void> => {
      if (last === null) throw new Refusal('state', 'nothing-to-undo', 'There is nothing to undo.', '');
      const now = await this.lastArrangement(modelId);
      if (now?.arrangement !== last.arrangement || !(await this.stands(last)))
        throw new Refusal(
          'state',
          'cannot',
          'One of these bedfuls was sent already, or was planned anew with another model.',
          'What was sent stays.',
        );
    };
    await stands();
    const touched = await this.touchedBy(last!);
    await this.writer.commit(
      'bedfuls',
      [
        this.db.delete(bedfuls).where(madeBy(last!)),
        this.db.update(bedfuls).set({ endedBy: null }).where(endedBy(last!)),
      ],
      { bodies: [modelId], holds: stands },
    );
    return [...new Set([modelId, ...touched.flatMap(modelsOf)])];
  }

  /** Takes a bedful that waits apart; undo brings it back. @throws Refusal where it was sent */
  async remove(id: string): Promise<BedfulRow> {
    const { row } = await this.one(id);
    const set = { endedBy: `${new Date().toISOString()} ${randomUUID()}` };
    await this.writer.commit('bedful', [this.db.update(bedfuls).set(set).where(eq(bedfuls.id, id))], {
      holds: () => this.mustWait(id),
    });
    return row;
  }

  /**
   * Puts a bedful on another printer: one in its place that holds the same parts as they lie there, with its number. Undo
   * brings it back.
   *
   * @param wantedAt left out, it is wanted when it was
   * @throws Refusal where it was sent meanwhile, changed, or the printer went
   */
  async move(
    row: BedfulRow,
    printer: PrinterView,
    placed: StepOf<'bedfuls'>['report']['bedfuls'][number],
    wantedAt: string | null = row.wantedAt,
  ): Promise<BedfulView> {
    const at = new Date().toISOString();
    const arrangement = `${at} ${randomUUID()}`;
    const moved: BedfulRow = {
      ...row,
      id: randomUUID(),
      printerId: printer.id,
      printerName: printer.profile.name,
      bedMm: placed.bedMm,
      // one after the other they may go in another order there
      parts: placed.parts.map(({ tag, at: place, turnDeg, path, durationS, materialG }) => ({
        ...row.parts.find((p) => p.tag === tag)!,
        at: place,
        turnDeg,
        path,
        durationS,
        materialG,
        settings: placed.settings,
      })),
      inTurn: placed.inTurn,
      fillPct: placed.fillPct,
      durationS: placed.durationS,
      materialG: placed.materialG,
      wantedAt,
      arrangement,
      createdAt: at,
    };
    await this.writer.commit(
      'bedful',
      [
        this.db.update(bedfuls).set({ endedBy: arrangement }).where(eq(bedfuls.id, row.id)),
        this.db.insert(bedfuls).values(moved),
      ],
      {
        bodies: modelsOf(row),
        meshes: row.parts.map((p) => p.mesh),
        holds: async () => {
          await this.mustWait(row.id);
          const { view } = await this.one(row.id);
          const odd = view.parts.find((p) => p.trouble !== null);
          if (odd) throw changedSince(`${odd.tag} has changed`);
          const there = (await this.workshop.printers()).find((p) => p.id === printer.id);
          if (!there || there.retiredAt !== null) throw changedSince(`The printer ${printer.profile.name} is gone`);
        },
      },
    );
    return (await this.one(moved.id)).view;
  }

  async want(id: string, wantedAt: string | null): Promise<BedfulView> {
    await this.writer.commit('bedful', [this.db.update(bedfuls).set({ wantedAt }).where(eq(bedfuls.id, id))], {
      holds: () => this.mustWait(id),
    });
    return (await this.one(id)).view;
  }

  /** @throws Refusal where it was sent already */
  async mustWait(id: string): Promise<void> {
    const { view } = await this.one(id);
    if (view.state !== 'waiting')
      throw new Refusal('state', 'cannot', `Bedful ${view.number} was sent already.`, 'What was sent stays as it is.');
  }
}
