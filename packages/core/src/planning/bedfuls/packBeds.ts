import { randomFrom } from '../../mesh/random.ts';
import type { RunContext } from '../../run/context.ts';
import type { KeepOut } from '../../params/checks.ts';
import { figures } from '../../trade/figures.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import type { BedfulAim } from './aims.ts';
import { BedCells, fitsIn, type Lean, type Place } from './BedCells.ts';
import type { Shadow } from './Shadow.ts';

/** A bed that parts are put on. */
export interface BedOfPrinter {
  profile: PrinterProfile;
  /** x, y that may be used, mm */
  room: readonly [number, number];
  /** in the room's own place */
  keepOuts: readonly KeepOut[];
  /** what of the room is clear of them, as what fits is held against it: its corner and its sides, mm */
  clear: { corner: readonly [number, number]; size: readonly [number, number] };
  /** parts are printed one after the other there */
  inTurn?: boolean;
  /** failures an hour */
  perHour: number;
}

/** A part to be put on a bed. By printer, where that differs. */
export interface Packable {
  /** its shadow at each turn that is tried, quarter turns first; empty where it fits no bed of that printer */
  shadows: readonly (readonly Shadow[])[];
  /** printed alone, s */
  durationS: readonly number[];
  /** only what has the same settings lies on one bed */
  settings: string;
  /** by printer, mm */
  heightMm: readonly number[];
}

/** Where a part lies in a bedful. */
export interface Put extends Place {
  part: number;
  /** which of its shadows */
  turn: number;
}

/** What goes on one bed in one go. */
export interface Bedful {
  printer: number;
  puts: Put[];
}

/** Orders that are tried beside those by size (our own judgement). */
const tries = 24;
/** Of all orders the first: by size, length and time. */
const plainOrders = 3;
const leansTried: readonly Lean[] = ['front', 'left'];
/** Longest bedfuls that are tried where little is to be lost, as shares of all hours. */
const caps = [1, 0.6, 0.4, 0.3, 0.22, 0.16, 0.12, 0.09, 0.06, 0.04, 0.02];

/** Time that a bedful takes, s: filament is laid part by part, resin takes the layers of its highest. */
export function bedfulS(times: readonly number[], { kind, startS }: PrinterProfile): number {
  if (times.length === 0) return 0;
  if (kind === 'resin') return Math.max(...times);
  return times.reduce((a, b) => a + b, 0) - (times.length - 1) * startS;
}

/** Time that a print takes in the mean when it fails at a rate and begins anew each time: (e^(rt) - 1) / r. */
export const expectedS = (seconds: number, perHour: number): number => {
  const r = perHour / 3600;
  return r > 0 ? Math.expm1(r * seconds) / r : seconds;
};

/**
 * The same where parts are printed one after the other: only the one that fails begins anew. The printer is made ready once,
 * and again for each that failed: a part behind the first runs without that, and in the mean for (1 - e^(-rw)) / r, w long;
 * where it fails it is printed as if alone.
 */
export function expectedInTurnS(
  times: readonly number[],
  { startS }: Pick<PrinterProfile, 'startS'>,
  perHour: number,
): number {
  const r = perHour / 3600;
  if (!(r > 0)) return times.reduce((sum, s) => sum + s, 0) - Math.max(0, times.length - 1) * startS;
  return times.reduce((sum, s, i) => {
    if (i === 0) return sum + expectedS(s, perHour);
    const fails = -Math.expm1(-r * Math.max(0, s - startS));
    return sum + fails / r + fails * expectedS(s, perHour);
  }, 0);
}

/** The cells of a bed on which nothing lies yet. */
export const cellsOf = ({ room, keepOuts, profile }: BedOfPrinter, cellMm: number): BedCells =>
  new BedCells(room, cellMm, keepOuts, profile.marginMm);

/** Does it stand along the bed, rather than aslant? */
const isQuarter = ({ turn }: Shadow): boolean => Math.abs(Math.sin(2 * turn)) < 1e-9;

/** A bedful with the time of each of its parts alone, s. */
interface Timed extends Bedful {
  times: number[];
}

/** A bed that is being filled. */
interface Filling extends Timed {
  cells: BedCells;
  settings: string;
}

class Packer {
  constructor(
    private readonly parts: readonly Packable[],
    private readonly beds: readonly BedOfPrinter[],
    private readonly cellMm: number,
    private readonly context: RunContext,
  ) {}

  /** Puts a part on a bed at whichever turn keeps nearest to the front, or to the left. */
  private put(filling: Filling, part: number, lean: Lean): boolean {
    let best: { put: Put; shadow: Shadow; far: number } | null = null;
    for (const [turn, shadow] of this.parts[part].shadows[filling.printer].entries()) {
      // aslant only what goes in no other way
      if (best && !isQuarter(shadow)) break;
      const place = filling.cells.find(shadow, lean);
      if (!place) continue;
      const [right, back] = [place.x + shadow.nx, place.y + shadow.ny];
      const far = lean === 'front' ? back * filling.cells.nx + right : right * filling.cells.ny + back;
      if (!best || far < best.far) best = { put: { part, turn, ...place }, shadow, far };
    }
    if (!best) return false;
    this.lay(filling, best.put, best.shadow);
    return true;
  }

  private lay(filling: Filling, put: Put, shadow: Shadow): void {
    filling.cells.put(shadow, put);
    filling.puts.push(put);
    filling.times.push(this.parts[put.part].durationS[filling.printer]);
  }

  /** Puts a part on an empty bed by its true box, where it lies clear of what must stay free but its gap does not. */
  private putClear(filling: Filling, part: number): boolean {
    const { clear } = this.beds[filling.printer];
    for (const [turn, shadow] of this.parts[part].shadows[filling.printer].entries()) {
      const { box, lead } = shadow;
      if (!fitsIn(box[0], clear.size[0]) || !fitsIn(box[1], clear.size[1])) continue;
      const [x, y] = clear.corner.map((mm, k) => mm / this.cellMm - lead[k]);
      this.lay(filling, { part, turn, x, y }, shadow);
      return true;
    }
    return false;
  }

  /** Does the head's carriage pass over all but one of them? */
  private passes({ printer, puts }: Filling, part: number): boolean {
    const { inTurn, profile } = this.beds[printer];
    const isTall = (p: number): boolean => this.parts[p].heightMm[printer] > profile.headHeightMm;
    return !inTurn || !isTall(part) || !puts.some((p) => isTall(p.part));
  }

  /** First fit: each part goes on the first bed that may take it and has room, or on a new one. */
  fill(order: readonly number[], lean: Lean, { may, begin }: Rule): Bedful[] {
    const open: Filling[] = [];
    for (const part of order) {
      this.context.checkCancelled();
      const { settings } = this.parts[part];
      if (open.some((f) => f.settings === settings && this.passes(f, part) && may(f, part) && this.put(f, part, lean)))
        continue;
      for (const printer of begin(part, open)) {
        const cells = cellsOf(this.beds[printer], this.cellMm);
        const filling: Filling = { printer, puts: [], times: [], cells, settings };
        if (!this.put(filling, part, lean) && !this.putClear(filling, part)) continue;
        open.push(filling);
        break;
      }
    }
    return open.map(({ printer, puts }) => ({ printer, puts }));
  }
}

/** How beds are filled for an aim. */
interface Rule {
  /** may a part join what is on a bed already? */
  may: (filling: Timed, part: number) => boolean;
  /** printers on which a new bed is begun for a part, the best first */
  begin: (part: number, open: readonly Timed[]) => number[];
}

/** What choices of bedfuls are held against. */
class Judge {
  constructor(
    private readonly parts: readonly Packable[],
    private readonly beds: readonly BedOfPrinter[],
    private readonly cellMm: number,
  ) {}

  /** of the room and of what a gap or brim may reach over its edges */
  private cellsOf = (b: number): number => {
    const beyond = Math.max(0, ...this.parts.flatMap((p) => p.shadows[b].flatMap((s) => s.lead)));
    const [x, y] = this.beds[b].room.map((mm) => mm / this.cellMm + 2 * beyond + 1);
    return x * y;
  };

  readonly largestBed = (): number => Math.max(...this.beds.map((_, b) => this.cellsOf(b)));

  private durationOf({ printer, puts }: Bedful): number {
    return bedfulS(
      puts.map((p) => this.parts[p.part].durationS[printer]),
      this.beds[printer].profile,
    );
  }

  /** In the mean, s: where parts are printed one after the other only the one that fails begins anew. */
  private expectedOf(bedful: Bedful): number {
    const { printer, puts } = bedful;
    const { inTurn, profile, perHour } = this.beds[printer];
    const times = puts.map((p) => this.parts[p.part].durationS[printer]);
    return inTurn ? expectedInTurnS(times, profile, perHour) : expectedS(bedfulS(times, profile), perHour);
  }

  private covered = ({ printer, puts }: Bedful): number =>
    puts.reduce((sum, p) => sum + this.parts[p.part].shadows[printer][p.turn].count, 0);

  /** Time of each printer with what is on it, s; with a change of beds after each. */
  private loads = (bedfuls: readonly Bedful[]): number[] =>
    this.beds.map((_, b) =>
      bedfuls.filter((f) => f.printer === b).reduce((sum, f) => sum + this.durationOf(f) + figures.changeBedS.value, 0),
    );

  /** What a choice costs; the less the better. */
  readonly cost: Record<BedfulAim, (bedfuls: readonly Bedful[]) => number> = {
    // among as many the one whose emptiest bed is emptiest: the next part may go there
    fewest: (bedfuls) => bedfuls.length + Math.min(...bedfuls.map(this.covered)) / this.largestBed(),
    soonest: (bedfuls) => Math.max(...this.loads(bedfuls)),
    'least-lost': (bedfuls) => bedfuls.reduce((sum, f) => sum + this.expectedOf(f) + figures.changeBedS.value, 0),
  };

  /** How beds are filled so that an aim is met; several ways where it is not known beforehand which is best. */
  rulesOf(aim: BedfulAim, all: readonly number[]): Rule[] {
    const { parts, beds } = this;
    const printersOf = (part: number): number[] =>
      beds.flatMap((_, b) => (parts[part].shadows[b].length > 0 ? [b] : []));
    const by = (part: number, value: (b: number) => number): number[] =>
      printersOf(part).sort((a, b) => value(a) - value(b));
    if (aim === 'fewest') return [{ may: () => true, begin: (part) => by(part, (b) => -this.cellsOf(b)) }];
    const begin: Rule['begin'] = (part, open) => {
      const load = this.loads(open);
      return by(part, (b) => load[b] + parts[part].durationS[b]);
    };
    const hours = all.reduce((sum, part) => sum + Math.min(...parts[part].durationS), 0);
    if (aim === 'least-lost')
      return caps.map((cap) => ({
        begin,
        may: ({ printer, times }, part) =>
          bedfulS([...times, parts[part].durationS[printer]], beds[printer].profile) <= cap * hours,
      }));
    // of several printers each gets its share of the hours
    return [
      {
        begin,
        may: ({ times }, part) => {
          const others = printersOf(part).length;
          return others < 2 || times.reduce((a, b) => a + b, 0) <= (1.02 * hours) / others;
        },
      },
    ];
  }
}

/** Orders in which parts are put on beds: by size, by length, by time, and others near those, drawn by chance. */
function ordersOf(parts: readonly Packable[], all: readonly number[], seed: number): number[][] {
  const most = (part: number, value: (s: Shadow) => number): number =>
    Math.max(...parts[part].shadows.flat().map(value));
  const by = (value: (part: number) => number): number[] => [...all].sort((a, b) => value(b) - value(a) || a - b);
  const bySize = by((part) => most(part, (s) => s.count));
  const byLength = by((part) => most(part, (s) => Math.max(s.nx, s.ny)));
  const byTime = by((part) => Math.min(...parts[part].durationS));
  const random = randomFrom(seed);
  const shuffled = (order: readonly number[]): number[] =>
    order
      .map((part, rank) => ({ part, at: rank + random() * Math.max(3, order.length / 3) }))
      .sort((a, b) => a.at - b.at)
      .map((e) => e.part);
  return [bySize, byLength, byTime, ...Array.from({ length: tries }, (_, i) => shuffled(i % 2 ? byLength : bySize))];
}

/**
 * Puts parts on beds by their true shadows: bottom left first fit (Baker, Coffman and Rivest 1980) at several turns over
 * orders by size and others drawn by chance, exact to a cell of the grid.
 *
 * @returns bedfuls, and the parts that fit on no bed
 */
export function packBeds(
  parts: readonly Packable[],
  beds: readonly BedOfPrinter[],
  aim: BedfulAim,
  cellMm: number,
  context: RunContext,
): { bedfuls: Bedful[]; left: number[] } {
  const everything = [...parts.keys()];
  const all = everything.filter((part) => parts[part].shadows.some((s) => s.length > 0));
  const packer = new Packer(parts, beds, cellMm, context);
  const judge = new Judge(parts, beds, cellMm);
  const cost = judge.cost[aim];
  const rules = judge.rulesOf(aim, all);
  // there is nothing better than as few beds as the area asks for
  const area = all.reduce((sum, part) => sum + Math.min(...parts[part].shadows.flat().map((s) => s.count)), 0);
  const enough = aim === 'fewest' ? Math.ceil(area / judge.largestBed()) : 0;
  // where there are many ways to fill, fewer orders do
  const orders = ordersOf(parts, all, context.seed).slice(0, rules.length > 1 ? plainOrders : undefined);
  const leans = rules.length > 1 ? leansTried.slice(0, 1) : leansTried;
  let best: Bedful[] = [];
  for (const [i, order] of orders.entries()) {
    context.progress(i / orders.length, 'Filling beds');
    if (best.length > 0 && best.length <= enough) break;
    for (const lean of leans)
      for (const rule of rules) {
        const found = packer.fill(order, lean, rule);
        if (best.length === 0 || cost(found) < cost(best) - 1e-9) best = found;
      }
  }
  const on = new Set(best.flatMap((b) => b.puts.map((p) => p.part)));
  return { bedfuls: best, left: everything.filter((part) => !on.has(part)) };
}
