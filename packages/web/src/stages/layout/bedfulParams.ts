import { laidPart } from '@jasmorphe/contracts/laidPart';
import { poseAfter } from '@jasmorphe/contracts/poses';
import type { PartView, PrinterView } from '@jasmorphe/contracts/views';
import type { ParamsOf } from '@jasmorphe/core/operations/catalogue';
import type { PrinterKind } from '@jasmorphe/core/params/checks';
import type { BedfulAim } from '@jasmorphe/core/planning/bedfuls/aims';
import { printingOf } from '@jasmorphe/core/planning/PrinterProfile';

/** Parts that wait for a bed: laid for that kind of printer, and neither printed, on a bed, nor set aside. */
export const waitingParts = (parts: readonly PartView[], kind: PrinterKind): PartView[] =>
  parts.filter((p) => p.posed !== null && p.state === 'planned' && poseAfter(p.line, p.cursor)?.report.kind === kind);

/** Printers of a kind that are printed with, each name once. */
export function printersFor(printers: readonly PrinterView[], kind: PrinterKind): PrinterView[] {
  const seen = new Set<string>();
  return printers.filter(({ profile, retiredAt }) => {
    if (retiredAt !== null || profile.kind !== kind || seen.has(profile.name)) return false;
    seen.add(profile.name);
    return true;
  });
}

/** What bedfuls are asked with. */
export const bedfulParams = (
  parts: readonly PartView[],
  printers: readonly PrinterView[],
  aim: BedfulAim,
  inTurn = false,
): Partial<ParamsOf<'bedfuls'>> => ({
  for: aim,
  printers: printers.map(({ profile }) => ({ name: profile.name, ...printingOf(profile) })),
  parts: parts.map(laidPart),
  ...(inTurn ? { inTurn } : {}),
});
