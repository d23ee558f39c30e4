import { randomUUID } from 'node:crypto';
import type { EndBedful } from '@jasmorphe/contracts/dayRequests';
import type { BedfulPartView, BedfulView } from '@jasmorphe/contracts/dayViews';
import { isPrinting, takeBackRefusal } from '@jasmorphe/core/planning/printState';
import type { Once, Told } from '../store/Answers.ts';
import { modelOf, modelsOf, ownTagOf, type BedfulRow } from '../store/bedfulViews.ts';
import type { Statement } from '../store/database.ts';
import type { Library } from '../store/Library.ts';
import { printOf, type LogRow, type LogRowInForce } from '../store/PrintLog.ts';
import { recutsOf } from '../store/recuts.ts';
import { Refusal } from '../store/Refusal.ts';
import type { Teller } from '../store/Teller.ts';
import { mustReach, saidOf, withdrawal, type Said } from './said.ts';

const refused = (message: string, hint = ''): Refusal => new Refusal('state', 'cannot', message, hint);

/** What came of a bedful, but for its time. */
export type BedfulEnd = Pick<EndBedful, 'hours' | 'stopped' | 'taken' | 'note'>;

/** What is said of one part of a bedful. */
const entryOf = (
  row: BedfulRow,
  part: BedfulRow['parts'][number],
  more: Said & Pick<LogRow, 'outcome'> & Partial<LogRow>,
): LogRow => ({
  id: randomUUID(),
  projectId: row.projectId,
  modelId: modelOf(row, part),
  partId: part.partId,
  meshHash: part.mesh,
  tag: ownTagOf(part),
  printerId: row.printerId,
  bedfulId: row.id,
  ...more,
});

/** @throws Refusal where the part does not print, or stopped higher than it is */
function checkStop(
  row: BedfulRow,
  on: readonly BedfulPartView[],
  { tag, heightMm }: BedfulEnd['stopped'][number],
): void {
  const part = on.find((p) => p.tag === tag);
  if (!part) throw refused(`${tag} is not printing in bedful ${row.number}.`);
  mustReach(part, heightMm, 'stopped');
}

/**
 * What is said of the parts of a bedful that comes off: its hours go by the hours that each part takes, what was taken
 * from spools by their grams, so that each share comes back with what is said of its part.
 *
 * @param on parts that print
 */
function ofEnd(row: BedfulRow, on: readonly BedfulPartView[], { hours, stopped, taken, note }: BedfulEnd, said: Said) {
  const parts = row.parts.filter((part) => on.some((p) => p.tag === part.tag));
  const shareOf = (of: (part: (typeof parts)[number]) => number) => {
    const sum = parts.reduce((n, p) => n + of(p), 0);
    return (part: (typeof parts)[number]): number => (sum > 0 ? of(part) / sum : 1 / parts.length);
  };
  const [byHours, byGrams] = [shareOf((p) => p.durationS), shareOf((p) => p.materialG)];
  const usedG = taken.reduce((n, t) => n + t.grams, 0);
  const entries = parts.map((part) => {
    const stop = stopped.find((s) => s.tag === part.tag);
    const entry = entryOf(row, part, {
      outcome: stop ? 'failed' : 'passed',
      heightMm: stop?.heightMm ?? null,
      durationS: hours === undefined ? null : hours * 3600 * byHours(part),
      materialG: taken.length === 0 ? null : usedG * byGrams(part),
      note,
      ...said,
    });
    return { part, entry };
  });
  return {
    entries: entries.map((s) => s.entry),
    shares: taken.flatMap(({ spoolId, grams }) =>
      entries.map(({ part, entry }) => ({ spoolId, grams: grams * byGrams(part), of: entry })),
    ),
  };
}

/** Was it said in one go? Entries of long ago are known by their time, and by what they say. */
const inOneGo = (a: LogRowInForce, b: LogRowInForce): boolean =>
  a.saidId === null && b.saidId === null
    ? a.at === b.at && (a.outcome === 'started') === (b.outcome === 'started')
    : a.saidId === b.saidId;

/** What happened to bedfuls at the printer: started, off the bed again, and that it was not so. */
export class BedfulPrints {
  constructor(
    private readonly library: Library,
    private readonly teller: Teller,
  ) {}

  /** @throws Refusal `cannot` where it was sent already, or is not what it was, or its bed is not free; `not-found`, `key-used` */
  start(id: string, told: Told): Promise<BedfulView> {
    return this.once(id, ['start', told.at], told, async (row, said, once) => {
      const entries = row.parts.map((part) => entryOf(row, part, { outcome: 'started', ...said }));
      await this.write(row, entries, () => this.mayStart(row), once);
    });
  }

  /**
   * It is off the bed: which of its parts stopped, and where; all others look right. Where each stopped, the bedful did.
   *
   * @throws Refusal `cannot` where it is on no bed; `bad-params` where a part cannot have stopped there; `not-found`, `key-used`
   */
  end(id: string, end: BedfulEnd, told: Told): Promise<BedfulView> {
    return this.once(id, ['end', end, told.at], told, async (row, said, once) => {
      const { bedfuls, workshop } = this.library;
      const printing = async () => {
        const { view } = await bedfuls.one(row.id);
        return view.state === 'printing' ? view.parts.filter(isPrinting) : [];
      };
      const on = await printing();
      const holds = async (): Promise<void> => {
        const now = await printing();
        if (now.length === 0) throw refused(`Bedful ${row.number} is not on a bed.`);
        if (now.length !== on.length) throw refused('Something was said of it meanwhile.', 'Look again.');
        for (const t of end.taken) await workshop.mustHaveSpool(t.spoolId);
      };
      for (const stop of end.stopped) checkStop(row, on, stop);
      const { entries, shares } = ofEnd(row, on, end, said);
      const draws = shares.map(({ spoolId, grams, of }) =>
        workshop.spoolStatement(spoolId, { kind: 'used', grams, note: `Bedful ${row.number}, ${of.tag}` }, of),
      );
      await this.write(row, entries, holds, once, draws);
    });
  }

  /**
   * Takes back what was said last of it: that it came off, or that it was started. What was said in one go is taken back in one
   * go.
   *
   * @throws Refusal `nothing-to-undo`; `cannot` where a part has gone on since, or its bed is not free; `not-found`, `key-used`
   */
  takeBack(id: string, told: Told): Promise<BedfulView> {
    return this.once(id, ['undo', told.at], told, async (row, said, once) => {
      const { prints } = this.library;
      const log = (await prints.inForceOf(modelsOf(row))).filter(
        (e) => e.bedfulId === row.id && e.outcome !== 'withdrawn',
      );
      const last = log.at(-1);
      if (!last) throw new Refusal('state', 'nothing-to-undo', 'Nothing was said of it.', '');
      const back = log.filter((e) => inOneGo(e, last));
      const entries = back.map((e) => ({
        ...withdrawal(e, e.id, { id: randomUUID(), ...said }),
        printerId: row.printerId,
        bedfulId: row.id,
      }));
      await this.write(row, entries, () => this.mayTakeBack(row, back), once);
    });
  }

  private once(
    id: string,
    what: readonly unknown[],
    told: Told,
    act: (row: BedfulRow, said: Said, once: Once) => Promise<void>,
  ): Promise<BedfulView> {
    const { answers, bedfuls } = this.library;
    return answers.once(told.key, ['bedful', id, ...what], {
      about: id,
      act: async (once) => act((await bedfuls.one(id)).row, saidOf(told), once),
      answer: async () => (await bedfuls.one(id)).view,
    });
  }

  private async write(
    row: BedfulRow,
    entries: readonly LogRow[],
    holds: () => Promise<void>,
    once: Once,
    beside: readonly Statement[] = [],
  ): Promise<void> {
    await holds();
    const both = async (): Promise<void> => {
      await once.holds();
      await holds();
    };
    await this.library.prints.add(entries, both, [...beside, ...once.beside]);
    for (const bodyId of [...modelsOf(row), ...row.parts.map((p) => p.partId)])
      this.teller.send({ type: 'body', bodyId, projectId: row.projectId });
  }

  private async mayStart(row: BedfulRow): Promise<void> {
    const { bedfuls, kits } = this.library;
    const { view } = await bedfuls.one(row.id);
    const called = `edful ${view.number} of ${(await kits.work(view.projectId)).name}`;
    if (view.state !== 'waiting')
      throw refused(`B${called} was sent already.`, 'Say at Print, or under Days, what became of it.');
    const odd = view.parts.find((p) => p.trouble !== null);
    if (odd)
      throw refused(
        `${odd.tag} is not what it was when b${called} was kept.`,
        'Plan the bedfuls anew at Lay out; nothing of this one is lost.',
      );
    if (view.printerId === null)
      throw refused(
        `${view.printer} is gone, or no longer printed with: b${called} has no bed.`,
        'Move it to another printer under Days, or plan the bedfuls anew at Lay out.',
      );
    await bedfuls.mustBeFree(view.printerId, row.id);
  }

  private async mayTakeBack(row: BedfulRow, back: readonly LogRowInForce[]): Promise<void> {
    const { bedfuls, prints, views } = this.library;
    const events = await prints.eventsOf(modelsOf(row));
    const recut = recutsOf((await views.viewsOf(modelsOf(row))).values());
    // an end that is taken back puts it on its bed again
    const { printerId } = (await bedfuls.one(row.id)).view;
    if (back[0].outcome !== 'started' && printerId !== null) await bedfuls.mustBeFree(printerId, row.id);
    for (const e of back) {
      const refusal = takeBackRefusal(e, events.get(e.modelId)?.get(e.meshHash) ?? [], recut.has(printOf(e)));
      if (refusal) throw refused(refusal);
    }
  }
}
