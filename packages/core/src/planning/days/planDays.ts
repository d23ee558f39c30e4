import { randomFrom } from '../../mesh/random.ts';
import { figures } from '../../trade/figures.ts';
import { expectedS } from '../bedfuls/packBeds.ts';
import type { DaysPlan, PlannedBedful, PlanNote, PrinterRecord } from './DaysPlan.ts';
import { spreadOf } from './failures.ts';
import { localTime } from './instants.ts';
import type { PlanRequest } from './PlanRequest.ts';
import type { Presence } from './Presence.ts';
import { hourMs, readPlan, type PlanInput } from './readPlan.ts';
import { searchOrder, type Order } from './searchOrder.ts';
import { drawOn, type Want } from './spools.ts';
import { timetableOf, type Placed, type Times, type Tries } from './timetable.ts';

/** Courses of failures that are played through. */
const courses = 400;
/** Nobody begins a print more often than this in one course. */
const mostFailures = 20;

/** A course of what may go wrong: each print fails by its printer's rate and is begun anew, and takes as long as such prints do. */
function courseOf({ times, rates, calibrated }: PlanInput, random: () => number): Tries {
  const normal = (): number => Math.sqrt(-2 * Math.log(Math.max(1e-12, random()))) * Math.cos(2 * Math.PI * random());
  return (task, printer) => {
    const { running, turns } = times.tasks[task];
    const allMs = times.tasks[task].printMs[printer]! * Math.exp(spreadOf(calibrated[task][printer]) * normal());
    // of what is printed one after the other that stays which is done
    let lastMs = allMs;
    const perMs = rates[printer].perHour / hourMs;
    const failedMs: number[] = [];
    // what runs has not failed so far, and fails from now on as if it were new
    let wentWellMs = running ? Math.max(0, times.nowMs - running.sinceMs) : 0;
    while (failedMs.length < mostFailures) {
      const untilMs = wentWellMs - Math.log(Math.max(1e-12, random())) / perMs;
      if (untilMs >= lastMs) break;
      failedMs.push(untilMs);
      const done = (allMs - lastMs + untilMs) / allMs;
      lastMs = allMs * (1 - (turns.findLast((share) => share <= done) ?? 0));
      wentWellMs = 0;
    }
    return { failedMs, lastMs };
  };
}

const quantile = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.ceil(share * sorted.length) - 1)];

const told = (ms: number): string | null => (ms < Infinity ? localTime(ms) : null);

/** Bedfuls on which the last day hangs: from the one that is done last back over the printer that it waited for. */
function decidersOf({ placed, readyMs }: Order['timetable'], { tasks, nowMs }: Times): Set<number> {
  const out = new Set<number>();
  const last = readyMs.reduce((best, t, i) => (t < Infinity && (best < 0 || t > readyMs[best]) ? i : best), -1);
  const own = placed.filter((p) => tasks[p.task].project === last && p.loadMs < Infinity);
  let at = own.sort((a, b) => b.doneMs - a.doneMs)[0];
  while (at) {
    out.add(at.task);
    const { printer, loadMs, task } = at;
    // it began when it was wanted, or at once
    if (loadMs <= Math.max(nowMs, tasks[task].wantedMs ?? 0)) break;
    at = placed
      .filter((p) => p.printer === printer && p.freeMs <= loadMs && p.task !== task)
      .sort((a, b) => b.freeMs - a.freeMs)[0];
  }
  return out;
}

/** Looks at a long print after its first layers: one where little is lost yet, when somebody is there. Of a print that is farther than that, none. */
function looksAt(presence: Presence, startMs: number, endMs: number, nowMs: number): PlannedBedful['looks'] {
  const tookMs = endMs - startMs;
  const wish = startMs + figures.secondLookShare.value * tookMs;
  if (tookMs < figures.longPrintS.value * 1000 || wish < nowMs) return [];
  const home = presence.homeAfter(wish);
  if (!home || home[0] >= endMs) return [];
  const at = Math.max(wish, home[0]);
  return [{ at: localTime(at), share: (at - startMs) / tookMs, onTime: at === wish }];
}

/**
 * Days of all printers and of their maker: which bedful is loaded when, looked at, taken off, from which spool it prints;
 * what comes behind on the bench; when all is ready, and how sure that is.
 *
 * @param nowMs used where the request says no other
 * @throws MeshError `bad-params`
 */
export function planDays(request: PlanRequest, nowMs: number, seed = 1): DaysPlan {
  const input = readPlan(request, nowMs);
  const found = searchOrder(input.times, seed);
  return tellPlan(input, found, seed);
}

/** One bedful as it is planned, and what is to be said of it. */
function tellBedful(
  input: PlanInput,
  { task, printer, loadMs, startMs, endMs, offMs, doneMs, halts }: Placed,
  withFailuresS: number,
  drawn: ReturnType<typeof drawOn>['drawn'][number],
  decides: boolean,
): { day: PlannedBedful; notes: PlanNote[] } {
  const { printers, bedfuls, projects, spools, fromMs } = input;
  const { tasks, presence } = input.times;
  const notes: PlanNote[] = [];
  const { name, id, project } = bedfuls[task];
  const { running, wantedMs } = tasks[task];
  // where there are several projects a number is not enough
  const called = projects.length > 1 && project !== '' ? `${name} of ${project}` : name;
  const fits = loadMs < Infinity;
  const looks = fits ? looksAt(presence, startMs, endMs, fromMs) : [];
  const draws = drawn.draws.map(({ spool, grams, atMs }, k) => ({
    spool: spools[spool].name,
    grams,
    at: told(atMs) ?? '',
    attended: k === 0 || (fits && presence.isThere(atMs)),
  }));
  const stops = halts.map(({ stop, fromMs: stoodMs, handMs }) => ({
    at: localTime(handMs),
    share: bedfuls[task].stops[stop].share,
    says: bedfuls[task].stops[stop].says,
    waitsS: (handMs - stoodMs) / 1000,
  }));
  for (const { says, waitsS } of stops)
    if (waitsS > figures.standsStillS.value)
      notes.push({ kind: 'stands-still', bedful: called, says, hours: waitsS / 3600 });
  const durationS = tasks[task].printMs[printer]! / 1000;
  const byLog = input.calibrated[task][printer];
  if (!fits) notes.push({ kind: 'no-time', bedful: called, hours: durationS / 3600 });
  else {
    if (wantedMs !== null && !running && loadMs > Math.max(wantedMs, fromMs) + 60_000)
      notes.push({ kind: 'wish-missed', bedful: called, hours: (loadMs - Math.max(wantedMs, fromMs)) / hourMs });
    if (looks.length === 0 && !running && durationS >= figures.longPrintS.value)
      notes.push({ kind: 'unseen', bedful: called });
  }
  // without a spool that is listed nobody asked
  if (drawn.shortG > 0.5 && spools.length > 0) notes.push({ kind: 'short', bedful: called, grams: drawn.shortG });
  for (const d of draws) if (!d.attended) notes.push({ kind: 'swap-alone', bedful: called, spool: d.spool });
  const day: PlannedBedful = {
    bedful: name,
    id,
    project,
    printer: printers[printer].name,
    durationS,
    likelyS: byLog && [(durationS * byLog.low) / byLog.factor, (durationS * byLog.high) / byLog.factor],
    expectedS: withFailuresS,
    loadAt: told(loadMs),
    startsAt: told(startMs),
    endsAt: told(endMs),
    offAt: told(offMs),
    doneAt: told(doneMs),
    running: running !== null,
    decides,
    looks,
    stops,
    draws,
    shortG: drawn.shortG,
  };
  return { day, notes };
}

/** A plan of an order that was found. */
function tellPlan(input: PlanInput, { order, printerOf, timetable }: Order, seed: number): DaysPlan {
  const { printers, bedfuls, projects, spools, rates, times, deadlinesMs, fromMs } = input;
  const { tasks } = times;
  const random = randomFrom(seed);
  const runs = Array.from({ length: courses }, () => timetableOf(times, order, printerOf, courseOf(input, random))).map(
    (t) => t.readyMs,
  );
  const isWhole = projects.map((p) => p.without.length === 0);
  const wholes = (ready: readonly number[]): number[] => ready.filter((_, i) => isWhole[i]);
  const readyAll = (ready: readonly number[]): number => Math.max(fromMs, ...wholes(ready));
  const shareOf = (is: (ready: readonly number[]) => boolean): number => runs.filter(is).length / runs.length;
  const ninth = (values: number[]): string | null =>
    told(
      quantile(
        values.sort((a, b) => a - b),
        0.9,
      ),
    );

  const placed = [...timetable.placed].sort((a, b) => a.loadMs - b.loadMs || a.task - b.task);
  const expected = placed.map(({ task, printer }) => {
    const { printMs, turns } = tasks[task];
    // each by itself, where they are printed one after the other
    const shares = turns.length > 0 ? turns.map((share, i) => share - (turns[i - 1] ?? 0)) : [1];
    return shares.reduce((n, share) => n + expectedS((share * printMs[printer]!) / 1000, rates[printer].perHour), 0);
  });
  const wants = placed.map(({ task, printer, startMs, endMs }, i): Want => {
    const { material, colour, grams } = bedfuls[task];
    const plainS = tasks[task].printMs[printer]! / 1000;
    const expectedG = plainS > 0 ? (grams * expected[i]) / plainS : grams;
    return { kind: printers[printer].kind, material, colour, grams, expectedG, printer, startMs, endMs };
  });
  const { drawn, leftG, emptyMs, buy } = drawOn(wants, spools);
  const deciders = decidersOf(timetable, times);
  const bedfulsTold = placed.map((p, i) => tellBedful(input, p, expected[i], drawn[i], deciders.has(p.task)));
  const days = bedfulsTold.map((t) => t.day);
  const notes = bedfulsTold.flatMap((t) => t.notes);
  const readyMs = readyAll(timetable.readyMs);
  for (const [i, ms] of timetable.readyMs.entries())
    if (ms > (deadlinesMs[i] ?? Infinity)) notes.push({ kind: 'late', project: projects[i].name });
  for (const { name, without } of projects)
    if (without.length > 0) notes.push({ kind: 'without', project: name, parts: without });
  const benchMs = timetable.bench
    .filter((b) => b.what === 'glue' || b.what === 'seams')
    .reduce((n, b) => n + b.toMs - b.fromMs, 0);
  const resin = placed.filter((p) => tasks[p.task].resin).length;
  const loads = placed.filter((p) => !tasks[p.task].running).length;
  const { changeBedS, takeOffS, washS, cureS, stopS } = figures;
  return {
    from: localTime(fromMs),
    deadline: told(deadlinesMs.reduce<number>((least, ms) => Math.min(least, ms ?? Infinity), Infinity)),
    ready: isWhole.includes(true) || projects.length === 0 ? told(readyMs) : null,
    readyP90: isWhole.includes(true) || projects.length === 0 ? ninth(runs.map(readyAll)) : null,
    lateProbability: deadlinesMs.some((ms, i) => ms !== null && isWhole[i])
      ? shareOf((ready) => ready.some((ms, i) => isWhole[i] && ms > (deadlinesMs[i] ?? Infinity)))
      : null,
    printS: days.reduce((n, d) => n + d.durationS, 0),
    expectedS: days.reduce((n, d) => n + d.expectedS, 0),
    handsS:
      benchMs / 1000 +
      placed.length * takeOffS.value +
      placed.reduce((n, p) => n + p.halts.length, 0) * stopS.value +
      loads * (changeBedS.value - takeOffS.value) +
      resin * (washS.value + cureS.value),
    materialG: bedfuls.reduce((n, b) => n + b.grams, 0),
    days,
    bench: timetable.bench.map(({ project, what, fromMs: a, toMs }) => ({
      project: projects[project].name,
      what,
      from: localTime(a),
      to: localTime(toMs),
    })),
    projects: projects.map(({ name }, i) => ({
      project: name,
      without: projects[i].without,
      printed: told(
        Math.max(fromMs, ...timetable.placed.filter((p) => tasks[p.task].project === i).map((p) => p.doneMs)),
      ),
      ready: isWhole[i] ? told(timetable.readyMs[i]) : null,
      readyP90: isWhole[i] ? ninth(runs.map((ready) => ready[i])) : null,
      deadline: told(deadlinesMs[i] ?? Infinity),
      lateProbability: deadlinesMs[i] === null || !isWhole[i] ? null : shareOf((ready) => ready[i] > deadlinesMs[i]!),
      printS: days.filter((d) => d.project === name).reduce((n, d) => n + d.durationS, 0),
    })),
    spools: spools.map((s, i) => ({
      name: s.name,
      usedG: s.leftG - leftG[i],
      leftG: leftG[i],
      endsAt: emptyMs[i] === null ? null : told(emptyMs[i]),
    })),
    buy,
    records: recordsOf(input),
    notes,
  };
}

const recordsOf = ({ printers, rates, calibrations }: PlanInput): PrinterRecord[] =>
  printers.map(({ name }, i) => ({
    printer: name,
    perHour: rates[i].perHour,
    perHourLow: rates[i].low,
    perHourHigh: rates[i].high,
    prints: rates[i].prints,
    hours: rates[i].hours,
    factor: calibrations[i]?.factor ?? null,
    factorLow: calibrations[i]?.low ?? null,
    factorHigh: calibrations[i]?.high ?? null,
  }));
