import { figures } from '../../trade/figures.ts';
import type { PrinterKind } from '../../params/checks.ts';

/** A spool or bottle with what is left on it. */
export interface Spool {
  name: string;
  kind: PrinterKind;
  /** what it is of; empty where nobody says */
  material: string;
  colour: string;
  leftG: number;
}

/** What a bedful wants, in the order in which they are started. */
export interface Want {
  kind: PrinterKind;
  /** empty: any */
  material: string;
  colour: string;
  grams: number;
  /** in the mean, with what failures waste */
  expectedG: number;
  printer: number;
  startMs: number;
  endMs: number;
}

/** What a bedful takes from a spool, and when that begins. */
export interface Draw {
  spool: number;
  grams: number;
  atMs: number;
}

export interface Drawn {
  draws: Draw[];
  /** what no spool holds */
  shortG: number;
}

export interface Shopping {
  kind: PrinterKind;
  material: string;
  colour: string;
  /** to buy, with what failures waste */
  grams: number;
  /** of that, for failures */
  allowanceG: number;
}

const plain = (words: string): string => words.trim().toLowerCase().replace(/\s+/g, ' ');
const isSame = (wanted: string, had: string): boolean =>
  plain(wanted) === '' || plain(had) === '' || plain(wanted) === plain(had);

/** Does a bedful print from it? What nobody says may be any; a colour may go by the name of a material. */
export const suits = (
  want: Pick<Want, 'kind' | 'material' | 'colour'>,
  spool: Pick<Spool, 'kind' | 'material' | 'colour'>,
): boolean =>
  want.kind === spool.kind &&
  isSame(want.material, spool.material) &&
  (isSame(want.colour, spool.colour) || plain(want.colour) === plain(spool.material));

/** The material that something is printed of: what is said, or what all spools that suit it are of; empty where those differ. */
export function materialFor(
  want: Pick<Want, 'kind' | 'material' | 'colour'>,
  spools: readonly Pick<Spool, 'kind' | 'material' | 'colour'>[],
): string {
  if (want.material.trim() !== '') return want.material;
  const found = new Set(spools.filter((s) => suits(want, s)).map((s) => s.material));
  return found.size === 1 ? [...found][0] : '';
}

/**
 * Which bedful draws on which spool: the one that is on the printer already where it holds with a reserve, or else the
 * smallest that does; where none holds the fullest is used up and another goes on after it. A spool that another printer
 * prints from at the time is none.
 *
 * @param wants in the order of their starts
 */
export function drawOn(
  wants: readonly Want[],
  spools: readonly Spool[],
  reserveG: number = figures.reserveG.value,
): { drawn: Drawn[]; leftG: number[]; emptyMs: (number | null)[]; buy: Shopping[] } {
  const leftG = spools.map((s) => s.leftG);
  const emptyMs: (number | null)[] = spools.map(() => null);
  const onPrinter = new Map<number, number>();
  // a spool feeds one printer at a time; of a bottle is poured for all
  const held = spools.map(() => ({ printer: -1, untilMs: -Infinity }));
  const usable = (s: number): number => Math.max(0, leftG[s] - reserveG);
  const drawn = wants.map((want): Drawn => {
    const isFree = (s: number): boolean =>
      want.kind === 'resin' || held[s].printer === want.printer || held[s].untilMs <= want.startMs;
    const fitting = [...spools.keys()].filter((s) => suits(want, spools[s]) && usable(s) > 0 && isFree(s));
    const draws: Draw[] = [];
    const take = (s: number, grams: number): void => {
      const before = draws.reduce((n, d) => n + d.grams, 0);
      const share = want.grams > 0 ? before / want.grams : 0;
      draws.push({ spool: s, grams, atMs: want.startMs + share * (want.endMs - want.startMs) });
      leftG[s] -= grams;
      onPrinter.set(want.printer, s);
      held[s] = { printer: want.printer, untilMs: Math.max(want.endMs, held[s].untilMs) };
    };
    const on = onPrinter.get(want.printer);
    const holding = fitting.filter((s) => usable(s) >= want.grams).sort((a, b) => leftG[a] - leftG[b] || a - b);
    const own = on !== undefined && holding.includes(on) ? on : holding[0];
    if (own !== undefined) {
      take(own, want.grams);
      return { draws, shortG: 0 };
    }
    let open = want.grams;
    // what is on the printer goes first, and then the fullest: as few changes as can be
    const inTurn = fitting.sort((a, b) => Number(b === on) - Number(a === on) || leftG[b] - leftG[a] || a - b);
    for (const s of inTurn) {
      if (open <= 0) break;
      const grams = Math.min(open, usable(s));
      take(s, grams);
      open -= grams;
      if (open > 0) {
        const done = draws.reduce((n, d) => n + d.grams, 0) / want.grams;
        emptyMs[s] = want.startMs + done * (want.endMs - want.startMs);
      }
    }
    return { draws, shortG: open };
  });
  return {
    drawn,
    leftG,
    emptyMs,
    buy: shoppingOf(
      wants,
      drawn,
      spools,
      leftG.map((_, s) => usable(s)),
    ),
  };
}

/** What is short, and what failures will waste beyond what is left on spools that suit. */
function shoppingOf(
  wants: readonly Want[],
  drawn: readonly Drawn[],
  spools: readonly Spool[],
  usable: number[],
): Shopping[] {
  const list = new Map<string, Shopping>();
  for (const [i, want] of wants.entries()) {
    let allowanceG = Math.max(0, want.expectedG - want.grams);
    for (const s of spools.keys()) {
      if (!suits(want, spools[s])) continue;
      const grams = Math.min(usable[s], allowanceG);
      usable[s] -= grams;
      allowanceG -= grams;
    }
    const grams = drawn[i].shortG + allowanceG;
    if (grams < 0.5) continue;
    const key = [want.kind, plain(want.material), plain(want.colour)].join('\n');
    const { kind, material, colour } = want;
    const row = list.get(key) ?? { kind, material, colour, grams: 0, allowanceG: 0 };
    list.set(key, { ...row, grams: row.grams + grams, allowanceG: row.allowanceG + allowanceG });
  }
  return [...list.values()].sort((a, b) => b.grams - a.grams);
}
