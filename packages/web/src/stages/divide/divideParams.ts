import type { PartView, PrinterView } from '@jasmorphe/contracts/views';
import type { DivideParams, DivideReport } from '@jasmorphe/core/operations/divide/describe';
import type { NamedBed, PartName } from '@jasmorphe/core/params/checks';
import { planeOf, type PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { figures } from '@jasmorphe/core/trade/figures';
import { fixed } from '@jasmorphe/core/words/numbers';
import { isWaiting } from '@jasmorphe/core/planning/printState';

/** The printers that a divide was made for, as far as they are there still. */
export function printersOf(old: Partial<DivideParams>, printers: readonly PrinterView[]): string[] {
  if (old.beds) return printers.filter((p) => old.beds!.some((b) => b.name === p.profile.name)).map((p) => p.id);
  return printers
    .filter((p) => p.profile.bedMm.join() === old.bed?.join())
    .slice(0, 1)
    .map((p) => p.id);
}

/** The cuts that a divide was given; null where they were planned. */
export const ownOf = ({ at, cuts }: Partial<DivideParams>): PlaneCut[] | null =>
  at || cuts ? [...(at ?? []).map(planeOf), ...(cuts ?? [])] : null;

/** The parts as they were named; the names of those that were printed are never given to others. */
export function namesOf(report: DivideReport, views: readonly PartView[], before: readonly PartName[]): PartName[] {
  const names = report.parts.map(({ tag, plain: { min, size, volumeMm3 } }): PartName => {
    const view = views.find((v) => v.tag === tag);
    return {
      tag,
      min: [min.x, min.y, min.z],
      size: [size.x, size.y, size.z],
      volumeMm3,
      ...(view && !isWaiting(view) ? { spent: true } : {}),
    };
  });
  return [...names, ...before.filter((n) => n.spent && !names.some((m) => m.tag === n.tag))];
}

/** What was tried on the printer in hand: its fit gauge, by material. */
export function fitHint(profile: PrinterProfile | undefined): string {
  if (!profile) return figures.fitClearanceMm.reason;
  const tried = profile.fits.map((f) => `${f.material} ${fixed(f.mm, 2)}`);
  return `fit gauge of ${profile.name}: ${[fixed(profile.fitMm, 2), ...tried].join(', ')} mm`;
}

/** Which printers keep a margin of their own free, whatever is asked for the others; empty where none does. */
export const ownMargins = (beds: readonly NamedBed[] | undefined, length: (mm: number) => string): string =>
  (beds ?? [])
    .filter((b) => b.margin !== undefined)
    .map((b) => `${b.name} keeps its own ${length(b.margin!)} free at the edge.`)
    .join(' ');

/** A cut of a report, to be made again. */
export const cutOf = ({ normal, offset, through, within, loop }: DivideReport['cuts'][number]): PlaneCut => ({
  normal: [normal.x, normal.y, normal.z],
  offset,
  ...(through ? { through: [through.x, through.y, through.z] as const } : {}),
  ...(loop ? { loop: loop.map(({ x, y, z }) => [x, y, z] as const) } : {}),
  ...(within
    ? {
        within: {
          min: [within.min.x, within.min.y, within.min.z] as const,
          max: [within.max.x, within.max.y, within.max.z] as const,
        },
      }
    : {}),
});

/** The cuts that a divide was given, as it was given them. */
export const cutsOf = ({ at, cuts }: Partial<DivideParams>): Pick<Partial<DivideParams>, 'at' | 'cuts'> => ({
  ...(at && { at }),
  ...(cuts && { cuts }),
});
