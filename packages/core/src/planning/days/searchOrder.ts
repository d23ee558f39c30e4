import { randomFrom } from '../../mesh/random.ts';
import { timetableOf, type Times, type Timetable } from './timetable.ts';

/** Where there are no more ways than this, all of them are tried. */
const mostWays = 4000;
/** Otherwise so many neighbours are tried, fewer where each takes long; after so many without gain it is kicked (our own judgement). */
const mostTries = 2400;
const mostPlaced = 100_000;
const kickAfter = 240;

export interface Order {
  order: number[];
  printerOf: number[];
  timetable: Timetable;
}

/** How a timetable compares with another: what matters first comes first; the less the better. */
const costOf = ({ placed, readyMs, lateStartsMs }: Timetable, { deadlinesMs }: Times): number[] => [
  // what finds no time at all
  placed.filter((p) => p.loadMs === Infinity).length,
  lateStartsMs,
  readyMs.reduce((sum, t, i) => sum + (t < Infinity ? Math.max(0, t - (deadlinesMs[i] ?? Infinity)) : 0), 0),
  Math.max(0, ...readyMs.filter((t) => t < Infinity)),
  readyMs.reduce((sum, t) => sum + (t < Infinity ? t : 0), 0),
  placed.reduce((sum, p) => sum + (p.freeMs < Infinity ? p.freeMs : 0), 0),
];

const isLess = (a: readonly number[], b: readonly number[]): boolean => {
  for (let k = 0; k < a.length; k++) if (Math.abs(a[k] - b[k]) > 1) return a[k] < b[k];
  return false;
};

/** All orders of some things, by Heap's method (1963); one list is changed in place between calls. */
function eachOrder(things: readonly number[], call: (order: readonly number[]) => void): void {
  const list = [...things];
  const counts = list.map(() => 0);
  call(list);
  for (let i = 0; i < list.length;)
    if (counts[i] < i) {
      const k = i % 2 ? counts[i] : 0;
      [list[k], list[i]] = [list[i], list[k]];
      call(list);
      counts[i]++;
      i = 0;
    } else {
      counts[i] = 0;
      i++;
    }
}

/**
 * In which order, and on which printers, bedfuls are printed so that wanted starts and deadlines are kept and all is ready
 * soonest. A few are tried in every way; of more the best is sought by exchanges and moves, with kicks where it stays (iterated
 * local search, Lourenço, Martin and Stützle 2003).
 */
export function searchOrder(times: Times, seed: number): Order {
  const { tasks } = times;
  const open = [...tasks.keys()].filter((t) => !tasks[t].running);
  const onto = tasks.map(({ printMs }) => printMs.flatMap((ms, p) => (ms === null ? [] : [p])));
  const printerOf = tasks.map(({ running }, t) => running?.printer ?? onto[t][0]);
  let best: Order | null = null;
  let cost: number[] = [];
  /** @returns what it costs */
  const tryOut = (order: readonly number[], printers: readonly number[]): number[] => {
    const timetable = timetableOf(times, order, printers);
    const own = costOf(timetable, times);
    if (best && !isLess(own, cost)) return own;
    best = { order: [...order], printerOf: [...printers], timetable };
    cost = own;
    return own;
  };
  let ways = 1;
  for (const [k, t] of open.entries()) ways *= (k + 1) * onto[t].length;
  if (ways <= mostWays) {
    const assign = (k: number): void => {
      if (k === open.length) return eachOrder(open, (order) => tryOut(order, printerOf));
      for (const p of onto[open[k]]) {
        printerOf[open[k]] = p;
        assign(k + 1);
      }
    };
    assign(0);
    return best!;
  }

  const random = randomFrom(seed);
  const pick = (n: number): number => Math.floor(random() * n);
  const shortest = (t: number): number => Math.min(...onto[t].map((p) => tasks[t].printMs[p]!));
  const wanted = (t: number): number => tasks[t].wantedMs ?? Infinity;
  /** each on whichever printer is done with it first, the longest first (Graham 1969) */
  const shared = (order: readonly number[]): number[] => {
    const load = new Array<number>(times.printers).fill(0);
    const out = [...printerOf];
    for (const t of order) {
      const p = onto[t].reduce((a, b) => (load[b] + tasks[t].printMs[b]! < load[a] + tasks[t].printMs[a]! ? b : a));
      load[p] += tasks[t].printMs[p]!;
      out[t] = p;
    }
    return out;
  };
  const longFirst = [...open].sort((a, b) => shortest(b) - shortest(a) || a - b);
  const byWish = [...longFirst].sort((a, b) => {
    const [x, y] = [wanted(a), wanted(b)];
    return x === y ? 0 : x - y;
  });
  const byProject = [...longFirst].sort((a, b) => tasks[a].project - tasks[b].project);
  const spread = shared(longFirst);
  for (const start of [longFirst, byWish, byProject, [...longFirst].reverse()]) tryOut(start, spread);
  let at: Pick<Order, 'order' | 'printerOf'> = best!;
  let atCost = cost;
  let since = 0;
  const tries = Math.min(mostTries, Math.ceil(mostPlaced / open.length));
  for (let i = 0; i < tries; i++) {
    const order = [...at.order];
    const printers = [...at.printerOf];
    const change = (): void => {
      const kind = pick(3);
      const [a, b] = [pick(order.length), pick(order.length)];
      if (kind === 0) [order[a], order[b]] = [order[b], order[a]];
      else if (kind === 1) order.splice(b, 0, ...order.splice(a, 1));
      else {
        const choices = onto[order[a]];
        printers[order[a]] = choices[pick(choices.length)];
      }
    };
    const kick = since >= kickAfter;
    for (let k = kick ? 4 : 1; k > 0; k--) change();
    const own = tryOut(order, printers);
    since = kick || isLess(own, atCost) ? 0 : since + 1;
    // what is as good is gone on with, too: plateaus are crossed
    if (kick || !isLess(atCost, own)) {
      at = { order, printerOf: printers };
      atCost = own;
    }
  }
  return best!;
}
