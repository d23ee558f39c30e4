import { figures } from '../../trade/figures.ts';
import type { Diary } from './Presence.ts';

/** What comes behind the last bedful of a project. */
export interface Finish {
  joints: number;
  /** of those that take slow glue */
  slow: number;
  /** parts that are not there when the last bedful is off: nothing is put together then */
  without: readonly string[];
}

/** Work on the bench, or a wait for glue and filler. */
export interface BenchWork {
  project: number;
  what: 'glue' | 'glue dries' | 'seams' | 'filler dries';
  fromMs: number;
  toMs: number;
}

/** Shortest piece of bench work that is begun, ms (our own judgement). */
const leastPieceMs = 15 * 60_000;

/**
 * What is done on the bench once the last bedful of a project is off: its joints are glued, then their seams filled and
 * sanded, with waits for glue and filler.
 *
 * @param fromMs when all parts are there
 * @returns the work in pieces, as hands are free, and when it is done; Infinity where it finds no time
 */
export function finishProject(
  project: number,
  { joints, slow }: Finish,
  fromMs: number,
  diary: Diary,
): { bench: BenchWork[]; readyMs: number } {
  const bench: BenchWork[] = [];
  let readyMs = fromMs;
  const work = (what: BenchWork['what'], seconds: number): void => {
    for (let left = seconds * 1000; left > 0 && readyMs < Infinity;) {
      const [from, to] = diary.piece(readyMs, left, leastPieceMs);
      readyMs = to;
      if (to === Infinity) return;
      diary.put(from, to);
      bench.push({ project, what, fromMs: from, toMs: to });
      left -= to - from;
    }
  };
  const wait = (what: BenchWork['what'], seconds: number): void => {
    if (readyMs === Infinity) return;
    const toMs = readyMs + seconds * 1000;
    bench.push({ project, what, fromMs: readyMs, toMs });
    readyMs = toMs;
  };
  if (joints === 0 || fromMs === Infinity) return { bench, readyMs };
  work('glue', joints * figures.glueJointS.value);
  wait('glue dries', (slow > 0 ? figures.slowGlueDryS : figures.fastGlueDryS).value);
  // filled, left to dry, and sanded: half of the work before and half after
  work('seams', (joints * figures.seamJointS.value) / 2);
  wait('filler dries', figures.fillerDryS.value);
  work('seams', (joints * figures.seamJointS.value) / 2);
  return { bench, readyMs };
}
