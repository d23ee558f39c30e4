import type {
  BedfulView,
  CurveOfProject,
  DaysOtherwise,
  DaysView,
  HoursByLog,
  RateOfPrinter,
} from '@jasmorphe/contracts/dayViews';
import { jointsOf } from '@jasmorphe/contracts/reading/joints';
import { cutCurve } from '@jasmorphe/core/planning/days/cutCurve';
import { calibrationBy, rateBy } from '@jasmorphe/core/planning/days/failures';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { roughDurationS } from '@jasmorphe/core/planning/estimate';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { localTime } from '@jasmorphe/core/planning/days/instants';
import { gatherDays, type Gathered } from './gatherDays.ts';
import { otherCutsOf } from './otherCuts.ts';
import type { Services } from '../Services.ts';

/** Days as they are planned now, of all projects that have bedfuls. */
export async function daysOf(services: Services): Promise<DaysView> {
  const { nowMs, request, bedfuls, projects, printers, leftOut } = await gatherDays(services.library);
  const names = request.printers.map((p) => p.name);
  const { plan } = await services.compute.run({ kind: 'plan', request, nowMs, otherwise: false }).result;
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
 * How long each part of models prints, s, without the start of its printer: by its bedful; as it was laid; of what is not laid yet by
 * its volume and skin, against what such figures come to for those that are.
 */
function hoursOfParts(
  bodies: readonly BodyView[],
  bedfuls: readonly BedfulView[],
  printers: readonly PrinterView[],
): { seconds: number; startS: number; printerId: string | null }[] {
  const on = new Map(bedfuls.flatMap((b) => b.parts.map((p) => [`${p.modelId} ${p.meshHash}`, { b, p }] as const)));
  const profileOf = (printerId: string | null): PrinterProfile =>
    (printers.find((p) => p.id === printerId) ?? printers[0])?.profile ?? new PrinterProfile();
  const usual = bedfuls.find((b) => b.printerId !== null)?.printerId ?? null;
  const all = bodies.flatMap(({ id, parts }) =>
    parts.map((part) => {
      const there = on.get(`${id} ${part.mesh.hash}`);
      const printerId = there?.b.printerId ?? usual;
      const profile = profileOf(printerId);
      const { volumeMm3, areaMm2 } = part.mesh.facts;
      const { heightMm, posed } = part;
      const piece = { volumeMm3: volumeMm3 ?? 0, areaMm2, heightMm, columnsMm3: posed?.supportMm3 ?? 0 };
      const known = there?.p.durationS ?? posed?.durationS ?? null;
      const laying = (s: number): number => Math.max(0, s - profile.startS);
      return {
        known: known === null ? null : laying(known),
        rough: laying(roughDurationS(piece, profile)),
        startS: profile.startS,
        printerId,
      };
    }),
  );
  const both = all.filter((p) => p.known !== null && p.rough > 0);
  const sum = (of: (p: (typeof all)[number]) => number): number => both.reduce((n, p) => n + of(p), 0);
  const ratio = both.length > 0 ? sum((p) => p.known!) / sum((p) => p.rough) : 1;
  return all.map(({ known, rough, startS, printerId }) => ({ seconds: known ?? ratio * rough, startS, printerId }));
}

/**
 * Where cutting a project pays: its whole as it is cut now.
 *
 * @returns null where none of its parts is on a bedful
 */
function curveOf({ request, projects, bedfuls, printers, log, bodies }: Gathered, at: number): CurveOfProject | null {
  const { id } = projects[at];
  const { sizeMm, pieceMm, pieces } = request.projects[at];
  const own = bedfuls.filter((b) => b.projectId === id);
  if (own.every((b) => b.parts.length === 0)) return null;
  const mine = bodies.filter((b) => b.projectId === id && b.aside === null);
  const hours = hoursOfParts(mine, own, printers);
  const allS = hours.reduce((n, h) => n + h.seconds, 0);
  // each printer fails at its own rate, for as long as it prints
  const rateOf = (printerId: string | null): number =>
    rateBy(log, request.printers[printers.findIndex((p) => p.id === printerId)]?.name ?? '').perHour;
  const curve = cutCurve({
    modelMm: sizeMm,
    pieceMm,
    pieces,
    joints: mine.reduce((n, b) => n + jointsOf(b).length, 0),
    printS: allS,
    startS: hours.reduce((n, h) => n + h.startS, 0) / hours.length,
    perHour: hours.reduce((n, h) => n + h.seconds * rateOf(h.printerId), 0) / Math.max(1e-9, allS),
  });
  return curve && { projectId: id, curve, pieceMm };
}

/** How days would be otherwise, and where cutting pays. */
export async function daysOtherwise(services: Services): Promise<DaysOtherwise> {
  const gathered = await gatherDays(services.library);
  const { nowMs, projects } = gathered;
  const request = { ...gathered.request, otherCuts: await otherCutsOf(services.library, gathered) };
  if (request.bedfuls.length === 0) return { whatIfs: [], curves: [] };
  const { whatIfs } = await services.compute.run({ kind: 'plan', request, nowMs, otherwise: true }).result;
  return { whatIfs, curves: projects.flatMap((_, i) => curveOf(gathered, i) ?? []) };
}
