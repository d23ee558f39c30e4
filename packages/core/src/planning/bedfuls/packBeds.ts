import { randomFrom } from '../../mesh/random.ts';
import type { RunContext } from '../../run/context.ts';
import type { KeepOut } from '../../params/checks.ts';
import { figures } from '../../trade/figures.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import type { BedfulAim } from './aims.ts';
import { BedCells, type Lean, type Place } from './BedCells.ts';
import type { Shadow } from './Shadow.ts';

/** A bed that parts are put on. */
export interface BedOfPrinter {
  profile: PrinterProfile;
  /** x, y that may be used, mm */
  room: readonly [number, number];
  /** in the room's own place */
  keepOuts: readonly KeepOut[];
}

/** A part to be put on a bed. By printer, where that differs. */
export interface Packable {
  /** its shadow at each turn that is tried, quarter turns first; empty where it fits no bed of that printer */
  shadows: readonly (readonly Shadow[])[];
  /** printed alone, s */
  durationS: readonly number[];
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
export const expectedS = (seconds: number, perHour: number = figures.failuresPerH.value): number => {
  const r = perHour / 3600;
  return r > 0 ? Math.expm1(r * seconds) / r : seconds;
};

/** Does it stand along the bed, rather than aslant? */
const isQuarter = ({ turn }: Shadow): boolean => Math.abs(Math.sin(2 * turn)) < 1e-9;

/** A bed that is being filled. */
interface Filling extends Bedful {
  cells: BedCells;
  times: number[];
}

class Packer {
  constructor(
    private readonly parts: readonly Packable[],
    private readonly beds: readonly BedOfPrinter[],
    private readonly cellMm: number,
  ) {}

  /** Puts a part on a bed at whichever turn keeps nearest to the front, or to the left. */
  private put(filling: Filling, part: number, lean: Lean): boolean {
    let best: { put: Put; shadow: Shadow; far: number } | null = null;
    const shadows = this.parts[part].shadows[filling.printer];
    shadows.forEach((shadow, turn) => {
      // aslant only what goes in no other way
      if (best && !isQuarter(shadow)) return;
      const place = filling.cells.find(shadow, lean);
      if (!place) return;
      const far =
        lean === 'front'
          ? (place.y + shadow.ny) * 1e4 + place.x + shadow.nx
          : (place.x + shadow.nx) * 1e4 + place.y + shadow.ny;
      if (!best || far < best.far) best = { put: { part, turn, ...place }, shadow, far };
    });
    if (!best) return false;
    const { put, shadow } = best as { put: Put; shadow: Shadow };
    filling.cells.put(shadow, put);
    filling.puts.push(put);
    filling.times.push(this.parts[part].durationS[filling.printer]);
    return true;
  }

  /**
   * First fit: each part goes on the first bed that has room, or on a new one.
   *
   * @param may whether a part may join what is on a bed already
   * @param begin printers on which a new bed is begun for a part, the best first
   */
  fill(
    order: readonly number[],
    lean: Lean,
    may: (filling: Bedful & { times: number[] }, part: number) => boolean,
    begin: (part: number, open: readonly Filling[]) => number[],
  ): { bedfuls: Bedful[]; left: number[] } {
    const open: Filling[] = [];
    const left: number[] = [];
    for (const part of order) {
      if (open.some((f) => may(f, part) && this.put(f, part, lean))) continue;
      const begun = begin(part, open).some((printer) => {
        const { room, keepOuts } = this.beds[printer];
        const cells = new BedCells(room, this.cellMm, keepOuts);
        const filling: Filling = { printer, puts: [], times: [], cells };
        if (!this.put(filling, part, lean)) return false;
        open.push(filling);
        return true;
      });
      if (!begun) left.push(part);
    }
    return { bedfuls: open.map(({ printer, puts }) => ({ printer, puts })), left };
  }
}

/** Share of the bed's cells that its parts cover. */
const fillOf = (bedful: Bedful, parts: readonly Packable[]): number =>
  bedful.puts.reduce((sum, p) => sum + parts[p.part].shadows[bedful.printer][p.turn].count, 0);

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
  const packer = new Packer(parts, beds, cellMm);
  const all = [...parts.keys()];
  const fits = (part: number): number[] => beds.flatMap((_, b) => (parts[part].shadows[b].length > 0 ? [b] : []));
  const sizeOf = (part: number): number => Math.max(...parts[part].shadows.flat().map((s) => s.count), 0);
  const longestOf = (part: number): number =>
    Math.max(...parts[part].shadows.flat().map((s) => Math.max(s.nx, s.ny)), 0);
  const bedArea = (b: number): number => beds[b].room[0] * beds[b].room[1];
  const loads = (open: readonly (Bedful & { times: number[] })[]): number[] =>
    beds.map(({ profile }, b) =>
      open.filter((f) => f.printer === b).reduce((sum, f) => sum + bedfulS(f.times, profile), 0),
    );
  const begin: Record<BedfulAim, (part: number, open: readonly (Bedful & { times: number[] })[]) => number[]> = {
    fewest: (part) => fits(part).sort((a, b) => bedArea(b) - bedArea(a)),
    soonest: (part, open) => {
      const load = loads(open);
      const after = (b: number): number => load[b] + parts[part].durationS[b];
      return fits(part).sort((a, b) => after(a) - after(b));
    },
    'least-lost': (part, open) => {
      const load = loads(open);
      return fits(part).sort((a, b) => load[a] - load[b]);
    },
  };
  const timesOf = ({ printer, puts }: Bedful): number[] => puts.map((p) => parts[p.part].durationS[printer]);
  const durationOf = (bedful: Bedful): number => bedfulS(timesOf(bedful), beds[bedful.printer].profile);
  const makespan = (bedfuls: readonly Bedful[]): number =>
    Math.max(
      0,
      ...beds.map((_, b) =>
        bedfuls.filter((f) => f.printer === b).reduce((sum, f) => sum + durationOf(f) + figures.changeBedS.value, 0),
      ),
    );
  const lost = (bedfuls: readonly Bedful[]): number =>
    bedfuls.reduce((sum, f) => sum + expectedS(durationOf(f)) + figures.changeBedS.value, 0);
  /** What a choice costs; the less the better. */
  const cost: Record<BedfulAim, (bedfuls: readonly Bedful[]) => number> = {
    // among as many the one whose emptiest bed is emptiest: the next part may go there
    fewest: (bedfuls) =>
      bedfuls.length +
      Math.min(...bedfuls.map((f) => fillOf(f, parts)), 1e9) /
        Math.max(1, Math.max(...beds.map((_, b) => bedArea(b))) / cellMm ** 2),
    soonest: makespan,
    'least-lost': lost,
  };

  const largest = Math.max(...beds.map((_, b) => bedArea(b))) / cellMm ** 2;
  const covered = all
    .filter((p) => fits(p).length > 0)
    .reduce((sum, p) => sum + Math.min(...parts[p].shadows.flat().map((s) => s.count)), 0);
  const fewest = Math.ceil(covered / largest);
  let best: { bedfuls: Bedful[]; left: number[] } | null = null;
  const look = (order: readonly number[], lean: Lean, may: Parameters<Packer['fill']>[2]): void => {
    context.checkCancelled();
    const found = packer.fill(order, lean, may, begin[aim]);
    if (
      !best ||
      found.left.length < best.left.length ||
      (found.left.length === best.left.length && cost[aim](found.bedfuls) < cost[aim](best.bedfuls) - 1e-9)
    )
      best = found;
  };
  const bySize = [...all].sort((a, b) => sizeOf(b) - sizeOf(a) || a - b);
  const byLength = [...all].sort((a, b) => longestOf(b) - longestOf(a) || a - b);
  const byTime = [...all].sort(
    (a, b) =>
      Math.max(...parts[b].durationS.filter(Number.isFinite), 0) -
        Math.max(...parts[a].durationS.filter(Number.isFinite), 0) || a - b,
  );
  const always = (): boolean => true;
  // of several printers each gets its share: a bed takes no part that another would have done sooner
  const balanced: Parameters<Packer['fill']>[2] = (f, part) => {
    const others = fits(part);
    return others.length < 2 || f.times.reduce((a, b) => a + b, 0) <= share(others.length);
  };
  const hours = all.reduce((sum, p) => sum + Math.min(...parts[p].durationS), 0);
  const share = (printers: number): number => (1.02 * hours) / printers;
  const random = randomFrom(context.seed);
  const shuffled = (order: readonly number[]): number[] =>
    [...order.entries()]
      .map(([rank, p]) => ({ p, at: rank + random() * Math.max(3, order.length / 3) }))
      .sort((a, b) => a.at - b.at)
      .map((e) => e.p);
  const orders = [
    bySize,
    byLength,
    byTime,
    ...Array.from({ length: tries }, (_, i) => shuffled(i % 2 ? byLength : bySize)),
  ];
  orders.forEach((order, i) => {
    context.progress(i / orders.length, 'Filling beds');
    // there is nothing better than as few beds as the area asks for
    if (aim === 'fewest' && best && best.left.length === 0 && best.bedfuls.length <= fewest) return;
    for (const lean of leansTried) {
      if (aim === 'least-lost') {
        if (i >= 3 || lean !== 'front') continue;
        for (const cap of caps)
          look(order, lean, (f, part) => {
            const { profile } = beds[f.printer];
            return bedfulS([...f.times, parts[part].durationS[f.printer]], profile) <= cap * hours;
          });
      } else look(order, lean, aim === 'soonest' && beds.length > 1 ? balanced : always);
    }
  });
  return best ?? { bedfuls: [], left: all };
}
