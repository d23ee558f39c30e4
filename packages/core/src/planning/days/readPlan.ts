import { parseParams } from '../../params/parseParams.ts';
import { MeshError } from '../../run/MeshError.ts';
import { calibrationBy, rateBy, type Calibration, type FailureRate } from './failures.ts';
import { HomeHours } from './HomeHours.ts';
import { instantOf } from './instants.ts';
import {
  PlanBedful,
  PlanLogEntry,
  PlanPrinter,
  PlanProject,
  PlanSpool,
  PlanStop,
  type PlanRequest,
} from './PlanRequest.ts';
import { materialFor } from './spools.ts';
import { Presence } from './Presence.ts';
import type { Task, Times } from './timetable.ts';

export const hourMs = 3_600_000;

/** A request with its instants read and its names looked up. */
export interface PlanInput {
  fromMs: number;
  /** by project; null where it has none */
  deadlinesMs: (number | null)[];
  home: HomeHours;
  printers: PlanPrinter[];
  bedfuls: PlanBedful[];
  projects: PlanProject[];
  spools: PlanSpool[];
  rates: FailureRate[];
  /** by printer, whatever it printed of */
  calibrations: (Calibration | null)[];
  /** by bedful and printer: of its material, where enough was printed of that */
  calibrated: (Calibration | null)[][];
  times: Times;
}

/** @throws MeshError `bad-params` where two have one name */
function once(things: readonly { name: string }[], what: string): void {
  const names = things.map((t) => t.name);
  const twice = names.find((n, i) => names.indexOf(n) < i);
  if (twice !== undefined)
    throw new MeshError('bad-params', `Two ${what} are called "${twice}".`, 'Name them apart.', what);
}

/** Hours of things one after the other as the shares at which each is done. */
function donesOf(hours: readonly number[]): number[] {
  const whole = hours.reduce((a, b) => a + b, 0);
  let done = 0;
  return hours.map((h, i) => (i === hours.length - 1 ? 1 : (done += h) / whole));
}

/** A bedful as the timetable knows it. @throws MeshError `bad-params` where a printer is not there, or a time is none */
function taskOf(
  b: PlanBedful,
  field: string,
  { printers, projects }: Pick<PlanInput, 'printers' | 'projects'>,
  calibrations: PlanInput['calibrations'],
): Task {
  const on = b.on.map(({ printer: name, hours }) => {
    const printer = printers.findIndex((p) => p.name === name);
    if (printer < 0)
      throw new MeshError(
        'bad-params',
        `There is no printer called "${name}".`,
        `There are ${printers.map((p) => p.name).join(', ')}.`,
        `${field}.on`,
      );
    return { printer, printMs: hours * hourMs * (calibrations[printer]?.factor ?? 1), kind: printers[printer].kind };
  });
  if (new Set(on.map((o) => o.kind)).size > 1)
    throw new MeshError(
      'bad-params',
      `"${b.name}" is to be printed of filament or of resin.`,
      'Name printers of one kind.',
      `${field}.on`,
    );
  return {
    name: b.name,
    printMs: printers.map((_, p) => on.find((o) => o.printer === p)?.printMs ?? null),
    project: projects.findIndex((p) => p.name === b.project),
    resin: on[0].kind === 'resin',
    wantedMs: b.wantedAt ? instantOf(b.wantedAt, `${field}.wantedAt`) : null,
    stops: b.stops.map((s) => s.share),
    turns: donesOf(b.turns),
    running: b.startedAt ? { printer: on[0].printer, sinceMs: instantOf(b.startedAt, `${field}.startedAt`) } : null,
  };
}

/** @throws MeshError `bad-params` where a name is not there, stands twice, or a time is none */
export function readPlan(request: PlanRequest, nowMs: number): PlanInput {
  const fromMs = request.from ? instantOf(request.from, 'from') : nowMs;
  const deadlineOf = (text: string, field: string): number | null => {
    if (!text) return null;
    const ms = instantOf(text, field, 'end');
    if (ms < fromMs)
      throw new MeshError('bad-params', 'The deadline is past already.', 'Give a later day, or none.', field);
    return ms;
  };
  const common = deadlineOf(request.deadline, 'deadline');
  const home = parseParams(HomeHours, request.home);
  const printers = request.printers.map((p) => parseParams(PlanPrinter, p));
  const bedfuls = request.bedfuls.map((b) => {
    const read = parseParams(PlanBedful, b);
    read.stops = read.stops.map((s) => parseParams(PlanStop, s)).sort((x, y) => x.share - y.share);
    return read;
  });
  const spools = request.spools.map((s) => parseParams(PlanSpool, s));
  const log = request.log.map((e) => parseParams(PlanLogEntry, e));
  const projects = request.projects.map((p) => parseParams(PlanProject, p));
  once(printers, 'printers');
  once(projects, 'projects');
  // what nobody says more of has no joints
  for (const { project } of bedfuls)
    if (!projects.some((p) => p.name === project)) projects.push(Object.assign(new PlanProject(), { name: project }));
  const deadlinesMs = projects.map((p, i) => deadlineOf(p.deadline, `projects.${i}.deadline`) ?? common);
  const rates = printers.map(({ name }) => rateBy(log, name));
  const calibrations = printers.map(({ name }) => calibrationBy(log, name));
  const calibrated = bedfuls.map((b) => {
    const kind = printers.find((p) => p.name === b.on[0].printer)?.kind ?? 'filament';
    const material = materialFor({ ...b, kind }, spools);
    return printers.map(({ name }) => calibrationBy(log, name, material));
  });
  const tasks = bedfuls.map((b, i) => taskOf(b, `bedfuls.${i}`, { printers, projects }, calibrated[i]));
  for (const p of printers.keys()) {
    const on = tasks.filter((t) => t.running?.printer === p);
    if (on.length > 1)
      throw new MeshError(
        'bad-params',
        `"${on[0].name}" and "${on[1].name}" are both on the bed of ${printers[p].name}.`,
        'One bedful is on a bed at a time.',
        'bedfuls',
      );
  }
  const times: Times = {
    tasks,
    printers: printers.length,
    finishes: projects,
    deadlinesMs,
    presence: new Presence(home, fromMs),
    nowMs: fromMs,
  };
  return { fromMs, deadlinesMs, home, printers, bedfuls, projects, spools, rates, calibrations, calibrated, times };
}
