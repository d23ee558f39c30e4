import { figures } from '../../trade/figures.ts';
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

/** What comes behind the last bedful of a project. */
export interface Finish {
  joints: number;
  /** of those that take slow glue */
  slow: number;
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

/** Work on the bench, or a wait for glue and filler. */
export interface BenchWork {
  project: number;
  what: 'glue' | 'glue dries' | 'seams' | 'filler dries';
  fromMs: number;
  toMs: number;
}

export interface Timetable {
  placed: Placed[];
  bench: BenchWork[];
  /** by project; Infinity where part of it finds no time */
  readyMs: number[];
  /** by which wanted starts were missed, all together */
  lateStartsMs: number;
}

/** Shortest piece of bench work that is begun, ms (our own judgement). */
const leastPieceMs = 15 * 60_000;
/** A print that fits between no two nights for so long never does, ms. */
const dayPatienceMs = 14 * 86_400_000;
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

  for (const [task, { running }] of tasks.entries()) {
    if (!running) continue;
    const { failedMs, lastMs } = tries(task, running.printer);
    // one that failed is noticed when somebody is there, and begun anew
    let start = running.sinceMs;
    let loaded = start;
    for (const ms of failedMs) {
      loaded = loadAt(Math.max(start + ms, nowMs), 0);
      start = loaded + loadMs;
    }
    takeOff(task, running.printer, loaded, start, Math.max(start + lastMs, nowMs));
  }
  /** The first instant from which it can be loaded, and its print runs as it may at night. */
  function loadAt(from: number, printMs: number): number {
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
  }
  for (const task of order) {
    const printer = printerOf[task];
    const { wantedMs } = tasks[task];
    const { failedMs, lastMs } = tries(task, printer);
    const from = Math.max(free[printer], wantedMs ?? 0);
    let loaded = loadAt(from, failedMs[0] ?? lastMs);
    if (wantedMs !== null) lateStartsMs += Math.max(0, loaded - Math.max(wantedMs, nowMs));
    let start = loaded + loadMs;
    for (const [k, ms] of failedMs.entries()) {
      loaded = loadAt(start + ms, failedMs[k + 1] ?? lastMs);
      start = loaded + loadMs;
    }
    if (loaded === Infinity) {
      // what finds no time holds nothing up but its own project
      placed.push({
        task,
        printer,
        loadMs: Infinity,
        startMs: Infinity,
        endMs: Infinity,
        offMs: Infinity,
        freeMs: Infinity,
        doneMs: Infinity,
      });
      continue;
    }
    takeOff(task, printer, loaded, start, start + lastMs);
  }

  const bench: BenchWork[] = [];
  const readyMs = times.finishes.map(() => nowMs);
  for (const p of placed) {
    const { project } = tasks[p.task];
    readyMs[project] = Math.max(readyMs[project], p.doneMs);
  }
  const inOrder = readyMs.map((_, i) => i).sort((a, b) => readyMs[a] - readyMs[b] || a - b);
  for (const project of inOrder) {
    const { joints, slow } = times.finishes[project];
    if (readyMs[project] === Infinity || joints === 0) continue;
    const work = (what: BenchWork['what'], seconds: number): void => {
      let left = seconds * 1000;
      while (left > 0 && readyMs[project] < Infinity) {
        const [from, to] = diary.piece(readyMs[project], left, leastPieceMs);
        if (from === Infinity) {
          readyMs[project] = Infinity;
          return;
        }
        diary.put(from, to);
        bench.push({ project, what, fromMs: from, toMs: to });
        left -= to - from;
        readyMs[project] = to;
      }
    };
    const wait = (what: BenchWork['what'], seconds: number): void => {
      const from = readyMs[project];
      readyMs[project] = from + seconds * 1000;
      bench.push({ project, what, fromMs: from, toMs: readyMs[project] });
    };
    work('glue', joints * figures.glueJointS.value);
    wait('glue dries', (slow > 0 ? figures.slowGlueDryS : figures.fastGlueDryS).value);
    // filled, left to dry, and sanded: half of the work before and half after
    work('seams', (joints * figures.seamJointS.value) / 2);
    wait('filler dries', figures.fillerDryS.value);
    work('seams', (joints * figures.seamJointS.value) / 2);
  }
  return { placed, bench, readyMs, lateStartsMs };
}
