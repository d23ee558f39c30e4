import { laidTogether } from '@jasmorphe/contracts/reading/laidPart';
import type { LaidModelView, RateOfPrinter } from '@jasmorphe/contracts/dayViews';
import { poseAfter } from '@jasmorphe/contracts/reading/poses';
import type { PartView, PrinterView } from '@jasmorphe/contracts/views';
import type { ParamsOf } from '@jasmorphe/core/operations/catalogue';
import type { PrinterKind } from '@jasmorphe/core/params/checks';
import type { BedfulAim, TurnRule } from '@jasmorphe/core/planning/bedfuls/aims';
import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { bedOf } from '@jasmorphe/core/planning/profileFields';
import { isWaiting } from '@jasmorphe/core/planning/printState';

/** Parts that wait for a bed: laid for that kind of printer, and neither printed, on a bed, nor set aside. */
export const waitingParts = (parts: readonly PartView[], kind: PrinterKind): PartView[] =>
  parts.filter((p) => p.posed !== null && isWaiting(p) && poseAfter(p.line, p.cursor)?.report.kind === kind);

/** Parts that could be put on beds. */
export interface OnBeds {
  laid: LaidPart[];
  /** how each is called among them, by its id */
  tags: ReadonlyMap<string, string>;
  /** how many models they are of */
  models: number;
}

/** Parts of models that wait for a bed of a kind of printer, each by a tag of its own. */
export function partsOnBeds(
  models: readonly Pick<LaidModelView, 'id' | 'name' | 'colour' | 'whole' | 'parts'>[],
  kind: PrinterKind,
): OnBeds {
  const used = models.map((m) => ({ ...m, parts: waitingParts(m.parts, kind) })).filter((m) => m.parts.length > 0);
  const laid = laidTogether(used);
  const ids = used.flatMap((m) => m.parts.map((p) => p.id));
  return { laid, tags: new Map(ids.map((id, i) => [id, laid[i].tag])), models: used.length };
}

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
  parts: readonly LaidPart[],
  printers: readonly PrinterView[],
  aim: BedfulAim,
  {
    inTurn = false,
    turn = 'any',
    rates = [],
  }: { inTurn?: boolean; turn?: TurnRule; rates?: readonly RateOfPrinter[] } = {},
): Partial<ParamsOf<'bedfuls'>> => ({
  for: aim,
  printers: printers.map(({ profile }) => ({ name: profile.name, ...bedOf(profile) })),
  parts: [...parts],
  // a rate that is a little other asks nothing anew
  failures: printers.flatMap(({ id, profile }) => {
    const rate = rates.find((r) => r.printerId === id);
    return rate ? [{ printer: profile.name, perHour: Number(Math.min(1, rate.perHour).toPrecision(3)) }] : [];
  }),
  ...(inTurn ? { inTurn } : {}),
  ...(turn === 'any' ? {} : { turn }),
});
