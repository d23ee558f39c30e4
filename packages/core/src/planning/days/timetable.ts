import { figures } from '../../trade/figures.ts';
import { finishProject, type BenchWork, type Finish } from './benchWork.ts';
import { Diary, type Presence } from './Presence.ts';

/** A bedful that is still to be printed or is printing. Instants and times in ms. */
export interface Task {
  name: string;
  /** by printer; null where it cannot be printed on it */
  printMs: readonly (number | null)[];
  /** number of what it belongs to */
  project: number;
  resin: boolean;
  /** not before; null where it is left to the plan */
  wantedMs: number | null;
  /** on the bed since then */
  running: { printer: number; sinceMs: number } | null;
  /** shares of its time, from 0 to 1 and in order, at which it stands still until a person has done something */
  stops: readonly number[];
  /** shares of its time at which a thing that is printed by itself is done, in order, the last 1; empty: all at once */
  turns: readonly number[];
}

/** A bedful in its place. */
export interface Placed {
  task: number;
  printer: number;
  /** a person begins to load it */
  loadMs: number;
  startMs: number;
  endMs: number;
  /** a person takes it off */
  offMs: number;
  /** the printer is free again */
  freeMs: number;
  /** of resin: dried and cured; of filament as `freeMs` */
  doneMs: number;
  /** when hands are at its stops; of those that are past already, none */
  halts: Halt[];
}

/** A stop of a print in its place. Instants in ms. */
export interface Halt {
  /** number of the stop of its task */
  stop: number;
  /** the print stands still */
  fromMs: number;
  /** a person is at it */
  handMs: number;
}

export interface Timetable {
  placed: Placed[];
  bench: BenchWork[];
  /** by project; Infinity where part of it finds no time. Of one that is not all on bedfuls, when those are printed */
  readyMs: number[];
  /** by which wanted starts were missed, all together */
  lateStartsMs: number;
}

/** A print that fits between no two nights for so long never does, ms. */
const dayPatienceMs = 14 * 86_400_000;
/** The times of what finds none. */
const never = {
  loadMs: Infinity,
  startMs: Infinity,
  endMs: Infinity,
  offMs: Infinity,
  freeMs: Infinity,
  doneMs: Infinity,
  halts: [],
};
const takeOffMs = figures.takeOffS.value * 1000;
/** Hands at a stop of a print, ms. */
const stopMs = figures.stopS.value * 1000;
/** Load a bed, send the file and watch the first layers, ms. */
export const loadMs = (figures.changeBedS.value - figures.takeOffS.value) * 1000;

/** How long each try of a print runs before it fails, and how long the one takes that does not, ms. */
export type Tries = (task: number, printer: number) => { failedMs: readonly number[]; lastMs: number };

export interface Times {
  tasks: readonly Task[];
  printers: number;
  finishes: readonly Finish[];
  /** by project; null where it has none */
  deadlinesMs: readonly (number | null)[];
  presence: Presence;
  nowMs: number;
}

/** A print with nothing going wrong. */
const asPlanned =
  ({ tasks }: Times): Tries =>
  (task, printer) => ({ failedMs: [], lastMs: tasks[task].printMs[printer]! });

/**
 * When each bedful is loaded, prints and comes off, given their order and printers: each as early as its printer, its
 * wanted start and the one pair of hands allow (serial schedule generation, Kolisch 1996).
 *
 * @param order tasks that do not run yet
 * @param printerOf by task
 */
export function timetableOf(
  times: Times,
  order: readonly number[],
  printerOf: readonly number[],
  tries: Tries = asPlanned(times),
): Timetable {
  const { tasks, presence, nowMs } = times;
  const diary = new Diary(presence);
  const free = new Array<number>(times.printers).fill(nowMs);
  const placed: Placed[] = [];
  let lateStartsMs = 0;

  /**
   * How a print runs that stands still at its stops until somebody comes.
   *
   * @param printMs that all of it takes
   * @param untilMs how much of that is printed at most
   */
  const runOf = (
    task: number,
    startMs: number,
    printMs: number,
    untilMs = printMs,
  ): { endMs: number; halts: Halt[] } => {
    const { stops, running } = tasks[task];
    const halts: Halt[] = [];
    let stoodMs = 0;
    for (const [stop, share] of stops.entries()) {
      if (share * printMs >= untilMs) break;
      const fromMs = startMs + share * printMs + stoodMs;
      // nobody said how a stop went that must be past: it was tended at once
      if (running && fromMs < nowMs) continue;
      const handMs = diary.earliest(fromMs, stopMs);
      if (handMs === Infinity) return { endMs: Infinity, halts };
      halts.push({ stop, fromMs, handMs });
      stoodMs += handMs + stopMs - fromMs;
    }
    return { endMs: startMs + untilMs + stoodMs, halts };
  };
  const tend = (halts: readonly Halt[]): void => {
    for (const { handMs } of halts) diary.put(handMs, handMs + stopMs);
  };

  const takeOff = (task: number, printer: number, loaded: number, startMs: number, lastMs: number): void => {
    const { resin } = tasks[task];
    const run = runOf(task, startMs, lastMs);
    const endMs = Math.max(run.endMs, nowMs);
    if (endMs === Infinity) {
      placed.push({ task, printer, ...never });
      return;
    }
    tend(run.halts);
    const hands = takeOffMs + (resin ? figures.washS.value * 1000 : 0);
    const offMs = diary.earliest(endMs, hands);
    diary.put(offMs, offMs + hands);
    let doneMs = offMs + hands;
    const freeMs = doneMs;
    if (resin) {
      const cureMs = figures.cureS.value * 1000;
      const cured = diary.earliest(doneMs + figures.resinDryS.value * 1000, cureMs);
      diary.put(cured, cured + cureMs);
      doneMs = cured + cureMs;
    }
    free[printer] = freeMs;
    placed.push({ task, printer, loadMs: loaded, startMs, endMs, offMs, freeMs, doneMs, halts: run.halts });
  };

  /** The first instant from which it can be loaded, and its print runs as it may at night. */
  const loadAt = (task: number, from: number, lastMs: number, untilMs = lastMs): number => {
    for (let t = from; ;) {
      const loaded = diary.earliest(t, loadMs);
      if (loaded === Infinity) return Infinity;
      const night = presence.nightOver(loaded + loadMs, runOf(task, loaded + loadMs, lastMs, untilMs).endMs);
      if (!night) {
        diary.put(loaded, loaded + loadMs);
        return loaded;
      }
      t = Math.max(night[1] - loadMs, loaded + 1);
      // longer than any day: it never fits between two nights
      if (t > from + dayPatienceMs) return Infinity;
    }
  };
  /** A try that failed is noticed when somebody is there, and begun anew. @returns when the last one is loaded */
  const lastLoaded = (
    task: number,
    loaded: number,
    startMs: number,
    { failedMs, lastMs }: ReturnType<Tries>,
  ): number => {
    let [load, start] = [loaded, startMs];
    for (const [k, ms] of failedMs.entries()) {
      const run = runOf(task, start, lastMs, ms);
      if (run.endMs === Infinity) return Infinity;
      tend(run.halts);
      load = loadAt(task, Math.max(run.endMs, nowMs), lastMs, failedMs[k + 1]);
      start = load + loadMs;
    }
    return load;
  };

  for (const [task, { running }] of tasks.entries()) {
    if (!running) continue;
    const tried = tries(task, running.printer);
    const loaded = lastLoaded(task, running.sinceMs, running.sinceMs, tried);
    const start = tried.failedMs.length > 0 ? loaded + loadMs : loaded;
    takeOff(task, running.printer, loaded, start, tried.lastMs);
  }
  for (const task of order) {
    const printer = printerOf[task];
    const { wantedMs } = tasks[task];
    const tried = tries(task, printer);
    const first = loadAt(task, Math.max(free[printer], wantedMs ?? 0), tried.lastMs, tried.failedMs[0]);
    if (wantedMs !== null) lateStartsMs += Math.max(0, first - Math.max(wantedMs, nowMs));
    const loaded = lastLoaded(task, first, first + loadMs, tried);
    const start = loaded + loadMs;
    if (loaded < Infinity) takeOff(task, printer, loaded, start, tried.lastMs);
    // what finds no time holds nothing up but its own project
    else placed.push({ task, printer, ...never });
  }

  const bench: BenchWork[] = [];
  const readyMs = times.finishes.map(() => nowMs);
  for (const p of placed) {
    const { project } = tasks[p.task];
    readyMs[project] = Math.max(readyMs[project], p.doneMs);
  }
  const inOrder = [...readyMs.keys()].sort((a, b) => readyMs[a] - readyMs[b] || a - b);
  for (const project of inOrder) {
    // what is not all printed is not put together
    if (times.finishes[project].without.length > 0) continue;
    const done = finishProject(project, times.finishes[project], readyMs[project], diary);
    readyMs[project] = done.readyMs;
    bench.push(...done.bench);
  }
  return { placed, bench, readyMs, lateStartsMs };
}
