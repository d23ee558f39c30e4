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
}

export interface Timetable {
  placed: Placed[];
  bench: BenchWork[];
  /** by project; Infinity where part of it finds no time */
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
};
const takeOffMs = figures.takeOffS.value * 1000;
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

  const takeOff = (task: number, printer: number, loaded: number, startMs: number, endMs: number): void => {
    const { resin } = tasks[task];
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
    placed.push({ task, printer, loadMs: loaded, startMs, endMs, offMs, freeMs, doneMs });
  };

  /** The first instant from which it can be loaded, and its print runs as it may at night. */
  const loadAt = (from: number, printMs: number): number => {
    for (let t = from; ;) {
      const loaded = diary.earliest(t, loadMs);
      if (loaded === Infinity) return Infinity;
      const night = presence.nightOver(loaded + loadMs, loaded + loadMs + printMs);
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
  const lastLoaded = (loaded: number, startMs: number, { failedMs, lastMs }: ReturnType<Tries>): number => {
    let [load, start] = [loaded, startMs];
    for (const [k, ms] of failedMs.entries()) {
      load = loadAt(Math.max(start + ms, nowMs), failedMs[k + 1] ?? lastMs);
      start = load + loadMs;
    }
    return load;
  };

  for (const [task, { running }] of tasks.entries()) {
    if (!running) continue;
    const tried = tries(task, running.printer);
    const loaded = lastLoaded(running.sinceMs, running.sinceMs, tried);
    const start = tried.failedMs.length > 0 ? loaded + loadMs : loaded;
    takeOff(task, running.printer, loaded, start, Math.max(start + tried.lastMs, nowMs));
  }
  for (const task of order) {
    const printer = printerOf[task];
    const { wantedMs } = tasks[task];
    const tried = tries(task, printer);
    const first = loadAt(Math.max(free[printer], wantedMs ?? 0), tried.failedMs[0] ?? tried.lastMs);
    if (wantedMs !== null) lateStartsMs += Math.max(0, first - Math.max(wantedMs, nowMs));
    const loaded = lastLoaded(first, first + loadMs, tried);
    const start = loaded + loadMs;
    if (loaded < Infinity) takeOff(task, printer, loaded, start, start + tried.lastMs);
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
    const done = finishProject(project, times.finishes[project], readyMs[project], diary);
    readyMs[project] = done.readyMs;
    bench.push(...done.bench);
  }
  return { placed, bench, readyMs, lateStartsMs };
}
