import type { PrinterView } from '@jasmorphe/contracts/views';
import type { BedSettings, NamedBed, PrinterKind } from '@jasmorphe/core/params/checks';
import { figures } from '@jasmorphe/core/trade/figures';
import { hoursShort, type CutsReport } from '@jasmorphe/core/operations/cuts/describe';
import type { DivideParams, DivideReport } from '@jasmorphe/core/operations/divide/describe';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { bestLie, cellsFor } from '@jasmorphe/core/planning/cuts/grid';
import { roomsOf } from '@jasmorphe/core/planning/room';
import type { PlanStyle } from '@jasmorphe/core/planning/cuts/styles';

/** What each plan is to be least in, in the order in which ties are settled. */
const measures: Record<PlanStyle, (r: CutsReport) => readonly number[]> = {
  fewest: (r) => [r.parts, r.seenSeamMm],
  clean: (r) => [r.seenSeamMm, r.parts],
  support: (r) => [r.supportMm3, r.parts],
  soon: (r) => [r.allS, r.longestS],
};

const less = (a: readonly number[], b: readonly number[]): boolean => {
  const i = a.findIndex((x, k) => x !== b[k]);
  return i >= 0 && a[i] < b[i];
};

/** The best of the plans that are there, by what a style is to be best at: plans found for one are often good at another. */
export function bestFor(style: PlanStyle, found: readonly (CutsReport | null)[]): CutsReport | null {
  const fitting = found.filter((r) => r !== null);
  const most = Math.min(...fitting.map((r) => r.parts - r.fitting));
  return fitting
    .filter((r) => r.parts - r.fitting === most)
    .reduce<CutsReport | null>(
      (best, r) => (best && !less(measures[style](r), measures[style](best)) ? best : r),
      null,
    );
}

/** What each of several printers prints by each plan: a row a printer, since their names want room. */
export function printerRows(reports: readonly (CutsReport | null)[]): { label: string; cells: (string | null)[] }[] {
  const names = new Set(reports.flatMap((r) => r?.printers.map((p) => p.name) ?? []));
  return [...names].map((name) => ({
    label: `On ${name}`,
    cells: reports.map((r) => {
      const share = r?.printers.find((p) => p.name === name);
      return share ? hoursShort(share.durationS) : null;
    }),
  }));
}

/** A few parts more are worth a cleaner skin up to this share. */
const worthParts = 1.25;

/** Which of the plans is advised, and why; null while fewer than two are there. */
export function advisedOf(best: Record<PlanStyle, CutsReport | null>): { style: PlanStyle; why: string } | null {
  const { fewest, clean } = best;
  if (!fewest || !clean) return null;
  const more = clean.parts - fewest.parts;
  const saved = 1 - clean.seenSeamMm / (fewest.seenSeamMm || 1);
  if (more <= 0) return { style: 'clean', why: 'No plan has fewer parts, and none shows less seam.' };
  if (clean.parts <= worthParts * fewest.parts && saved > 0.05)
    return {
      style: 'clean',
      why: `${more} ${more === 1 ? 'part' : 'parts'} more than the fewest, and ${Math.round(100 * saved)} % less seam that shows.`,
    };
  return { style: 'fewest', why: 'Fewer parts mean fewer seams; the cleaner plan has many more.' };
}

/** What prints, as far as the hours of a plan go by it. */
const settingsOf = ({ kind, layerMm, nozzleMm }: PrinterView['profile']): BedSettings & { kind: PrinterKind } => ({
  kind,
  layer: layerMm,
  ...(kind === 'filament' && { nozzle: nozzleMm }),
});

/** What a printer keeps free, where that is not the usual: then it goes before what is asked for all. */
const marginOf = ({ marginMm }: PrinterView['profile']): Pick<NamedBed, 'margin'> =>
  marginMm === figures.bedMarginMm.value ? {} : { margin: marginMm };

const usualBed: [number, number, number] = [220, 220, 250];

export type BedParams = Pick<DivideParams, 'bed' | 'beds' | 'kind' | 'layer' | 'nozzle'>;

/** Those of a divide that say for which printers it is. */
export const bedsOf = ({ bed, beds, kind = 'filament', layer, nozzle }: Partial<BedParams>): BedParams => ({
  bed: bed ?? usualBed,
  ...(beds && { beds }),
  kind,
  ...(layer !== undefined && { layer }),
  ...(nozzle !== undefined && { nozzle }),
});

/** Are two divides for the same printers? What neither says is as usual. */
export function areSameBeds(a: Partial<BedParams>, b: BedParams): boolean {
  const all = ({ bed, beds, kind = 'filament', layer, nozzle }: Partial<BedParams>): string =>
    JSON.stringify(
      (beds ?? [{ name: '', bed: bed ?? usualBed }]).map((own: NamedBed) => [
        own.name,
        own.bed,
        own.keepOuts ?? [],
        own.margin ?? null,
        own.kind ?? kind,
        own.layer ?? layer ?? null,
        own.nozzle ?? nozzle ?? figures.nozzleMm.value,
      ]),
    );
  return all(a) === all(b);
}

/** The params that stand for printers: the one bed, or all by name where there are several or something is in the way or kept free. */
export function bedParams(printers: readonly PrinterView[]): BedParams {
  if (printers.length === 0) return { bed: usualBed, kind: 'filament' };
  const [{ profile }] = printers;
  const alone = printers.length === 1 && profile.keepOuts.length === 0 && Object.keys(marginOf(profile)).length === 0;
  return {
    bed: profile.bedMm,
    ...settingsOf(profile),
    ...(alone
      ? {}
      : {
          beds: printers.map(({ profile: p }) => ({
            name: p.name,
            bed: p.bedMm,
            ...settingsOf(p),
            ...(p.keepOuts.length > 0 ? { keepOuts: p.keepOuts } : {}),
            ...marginOf(p),
          })),
        }),
  };
}

/** What a divide that was done came to, in the figures of a plan; null for those that only a plan has. */
export const cutSo = ({ parts, cuts }: DivideReport): { parts: number; fitting: number; seamMm: number } => ({
  parts: parts.length,
  fitting: parts.filter((p) => p.fits).length,
  seamMm: cuts.reduce((n, c) => n + c.seamMm, 0),
});

/** The rooms that parts may lie in on the beds; none where the margin leaves none. */
export function roomsIn({ bed, beds }: Pick<DivideParams, 'bed' | 'beds'>, margin: number): Vec3[] {
  try {
    return roomsOf(bed, margin, beds).map(({ room }) => room);
  } catch {
    return [];
  }
}

/** How many cells of the rooms a size takes; Infinity where there is no room. */
export const cellsIn = (size: Vec3, rooms: readonly Vec3[]): number =>
  Math.min(Infinity, ...rooms.map((room) => cellsFor(size, bestLie(size, room))));
