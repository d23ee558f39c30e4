import type { CurveOfProject, DaysOtherwise, DaysView, HoursByLog, RateOfPrinter } from '@jasmorphe/contracts/dayViews';
import { jointsOf } from '@jasmorphe/contracts/joints';
import { cutCurve } from '@jasmorphe/core/planning/days/cutCurve';
import { calibrationBy, failureRate, rateBy } from '@jasmorphe/core/planning/days/failures';
import { localTime } from '@jasmorphe/core/planning/days/instants';
import { gatherDays, type Gathered } from './gatherDays.ts';
import { otherCutsOf } from './otherCuts.ts';
import type { Services } from './Services.ts';

/** Days as they are planned now, of all projects that have bedfuls. */
export async function daysOf(services: Services): Promise<DaysView> {
  const { nowMs, request, bedfuls, projects, printers, leftOut } = await gatherDays(services.library);
  const names = request.printers.map((p) => p.name);
  const { plan } = await services.pool.plan({ request, nowMs, otherwise: false });
  return {
    now: localTime(nowMs),
    plan,
    bedfuls,
    projects,
    leftOut,
    printers: printers.map(({ id, profile, loggedH }, i) => ({
      id,
      name: names[i],
      kind: profile.kind,
      hours: profile.hoursRun + loggedH,
      lifeH: profile.partLifeH,
      sinceH: profile.partSinceH,
    })),
  };
}

/** How long prints of each printer take against what was said of them, for each material that enough were printed of. */
export async function hoursByLog({ library }: Services): Promise<HoursByLog[]> {
  const { printers, log, request } = await gatherDays(library);
  return printers.flatMap(({ id }, i) => {
    const { name } = request.printers[i];
    const own = log.filter((e) => e.printer === name);
    return [...new Set(['', ...own.map((e) => e.material)])].flatMap((material) => {
      const found = calibrationBy(own, name, material);
      // of a material that too few were printed of nothing of its own is known
      return found && found.material === material ? [{ printerId: id, ...found }] : [];
    });
  });
}

/** How often each printer fails. */
export async function ratesOf({ library }: Services): Promise<RateOfPrinter[]> {
  const { printers, log, request } = await gatherDays(library);
  return printers.map(({ id }, i) => ({ printerId: id, ...rateBy(log, request.printers[i].name) }));
}

/**
 * Where cutting a project pays: its whole as it is cut now, its hours by those parts that are on bedfuls.
 *
 * @returns null where none is
 */
function curveOf({ request, projects, bedfuls, printers, log, bodies }: Gathered, at: number): CurveOfProject | null {
  const { id } = projects[at];
  const { sizeMm, pieceMm, pieces } = request.projects[at];
  const own = bedfuls.filter((b) => b.projectId === id);
  const laid = own.flatMap((b) =>
    b.parts.map((p) => ({ ...p, startS: printers.find((q) => q.id === b.printerId)?.profile.startS ?? 0 })),
  );
  if (laid.length === 0) return null;
  const mean = (of: (part: (typeof laid)[number]) => number): number =>
    laid.reduce((n, p) => n + of(p), 0) / laid.length;
  const hours = log.reduce((n, e) => n + e.hours, 0);
  const curve = cutCurve({
    modelMm: sizeMm,
    pieceMm,
    pieces,
    joints: bodies.filter((b) => b.projectId === id).reduce((n, b) => n + jointsOf(b).length, 0),
    printS: pieces * mean((p) => Math.max(0, p.durationS - p.startS)),
    startS: mean((p) => p.startS),
    perHour: failureRate({ failed: log.filter((e) => e.failed).length, hours, prints: log.length }).perHour,
  });
  return curve && { projectId: id, curve, pieceMm };
}

/** How days would be otherwise, and where cutting pays. */
export async function daysOtherwise(services: Services): Promise<DaysOtherwise> {
  const gathered = await gatherDays(services.library);
  const { nowMs, projects } = gathered;
  const request = { ...gathered.request, otherCuts: await otherCutsOf(services.library, gathered) };
  if (request.bedfuls.length === 0) return { whatIfs: [], curves: [] };
  const { whatIfs } = await services.pool.plan({ request, nowMs, otherwise: true });
  return { whatIfs, curves: projects.flatMap((_, i) => curveOf(gathered, i) ?? []) };
}
