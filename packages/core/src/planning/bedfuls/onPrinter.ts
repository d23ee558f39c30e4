import { readKept } from '../../params/parseParams.ts';
import { roughDurationS, roughMaterialMm3, type RoughPiece } from '../estimate.ts';
import { PrinterProfile } from '../PrinterProfile.ts';
import { settingsText } from '../settingsText.ts';

/** What a maker sets for a part, which goes with it to another printer. */
const settings = ['layerMm', 'lineWidthMm', 'walls', 'infillPct', 'supports', 'supportPct', 'overhangDeg'] as const;
/** What a printer itself brings to hours. */
const machine = [
  'kind',
  'nozzleMm',
  'startS',
  'wallSpeedMmS',
  'infillSpeedMmS',
  'maxFlowMm3S',
  'travelPct',
  'exposureS',
  'liftS',
  'bottomLayers',
  'bottomExposureS',
  'transitionLayers',
] as const;

/** Fields of a profile that hours go by. */
export const hoursBy = (profile: PrinterProfile): Partial<PrinterProfile> =>
  Object.fromEntries([...machine, ...settings].map((key) => [key, profile[key]]));

/** What a part was laid for, and the support that it has as it lies. */
export interface LaidFor {
  printer: Partial<PrinterProfile>;
  supportMm3: number;
}

/** Are the lines that a part was laid with none that the nozzle of another printer lays? */
const isOtherNozzle = (own: PrinterProfile, on: PrinterProfile): boolean =>
  on.kind === 'filament' && own.kind === on.kind && own.nozzleMm !== on.nozzleMm;

/** What is set for a part on a printer, in words: what it was laid with, or what that printer is set to where the nozzle is another. */
export function settingsOn(said: string, laidFor: LaidFor, on: PrinterProfile): string {
  const own = readKept(PrinterProfile, laidFor.printer);
  if (!isOtherNozzle(own, on)) return said;
  // what was said beside it, such as the colour, stays
  const before = settingsText(own);
  return `${settingsText(on)}${said.startsWith(before) ? said.slice(before.length) : ''}`;
}

/** What a part takes, as it was worked out for the printer that it was laid for. */
export interface Taken {
  durationS: number;
  materialG: number;
}

/**
 * What a part that was laid for one printer takes on another of its kind: at that one's speeds, with the settings that it
 * was laid with where the nozzle is the same, and those of the other where it is not. By volume, skin and overhangs, at the
 * ratio of the two; on a printer of the same figures it is what was worked out.
 */
export function onPrinter(
  taken: Taken,
  { volumeMm3, areaMm2, heightMm }: Omit<RoughPiece, 'columnsMm3'>,
  laidFor: LaidFor,
  on: PrinterProfile,
): Taken {
  const own = readKept(PrinterProfile, laidFor.printer);
  if (own.kind !== on.kind) return taken;
  const kept = isOtherNozzle(own, on) ? on : own;
  const there = Object.assign(new PrinterProfile(), on, Object.fromEntries(settings.map((key) => [key, kept[key]])));
  const piece = { volumeMm3, areaMm2, heightMm, columnsMm3: laidFor.supportMm3 };
  const laying = (profile: PrinterProfile): number => roughDurationS(piece, profile) - profile.startS;
  const ratio = (now: number, then: number): number => (now > 0 ? then / now : 1);
  return {
    durationS: there.startS + Math.max(0, taken.durationS - own.startS) * ratio(laying(own), laying(there)),
    materialG: taken.materialG * ratio(roughMaterialMm3(piece, own), roughMaterialMm3(piece, there)),
  };
}
