import type { PartView, PrinterView } from '@jasmorphe/contracts/views';
import type { ParamsOf } from '@jasmorphe/core/operations/catalogue';
import type { BedfulAim } from '@jasmorphe/core/planning/bedfuls/aims';
import { printingOf } from '@jasmorphe/core/planning/PrinterProfile';

/** Parts that wait for a bed: laid, and neither printed, on a bed, nor set aside. */
export const waitingParts = (parts: readonly PartView[]): PartView[] =>
  parts.filter((p) => p.posed !== null && p.state === 'planned');

/** Printers that are printed with, of the kind that the parts were laid for first; names told apart. */
export function printersFor(printers: readonly PrinterView[], thought: PrinterView | undefined): PrinterView[] {
  const kind = thought?.profile.kind ?? 'filament';
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
): Partial<ParamsOf<'bedfuls'>> => ({
  for: aim,
  printers: printers.map(({ profile }) => ({ name: profile.name, ...printingOf(profile) })),
  parts: parts.map(({ tag, mesh, rotation, heightMm, posed }) => ({
    tag,
    mesh: mesh.hash,
    rotation,
    heightMm,
    durationS: posed!.durationS,
    materialG: posed!.materialG,
  })),
});
