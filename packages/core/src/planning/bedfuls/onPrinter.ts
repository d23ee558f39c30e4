import { readKept } from '../../params/parseParams.ts';
import { estimateFromLayers, type Estimate, type LayerSums, type RoughPiece } from '../estimate.ts';
import { PrinterProfile } from '../PrinterProfile.ts';
import { fieldsOfPart } from '../profileFields.ts';
import { settingsText } from '../settingsText.ts';

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

type Piece = Omit<RoughPiece, 'columnsMm3'>;

/** A printer with what goes to it of a part that was laid for another. */
const withPart = (own: PrinterProfile, on: PrinterProfile): PrinterProfile =>
  Object.assign(
    new PrinterProfile(),
    on,
    Object.fromEntries(fieldsOfPart(!isOtherNozzle(own, on)).map((key) => [key, own[key]])),
  );

/** Layers of an upright piece of a volume and a skin that is the same all the way up. @param ways from corner to corner along each outline */
function uprightLayers({ volumeMm3, areaMm2, heightMm }: Piece, layerMm: number, ways: number): LayerSums {
  const layers = Math.max(1, Math.ceil(heightMm / layerMm - 1e-4));
  const area = volumeMm3 / (layers * layerMm);
  // no outline is shorter than a circle
  const perimeter = Math.max((areaMm2 - 2 * area) / heightMm, 2 * Math.sqrt(Math.PI * area));
  const all = (value: number): number[] => Array.from({ length: layers }, () => value);
  return { layerMm, heightMm, areas: all(area), perimeters: all(perimeter), ways: all(ways) };
}

/** More ways than any outline has, from corner to corner. */
const mostWays = 1e5;

/** How often an outline of it stops, so that it takes as long on its own printer as was worked out: the one thing that volume and skin do not tell. */
function waysOf(takes: (ways: number) => number, durationS: number): number {
  let [few, many] = [0, mostWays];
  if (takes(few) >= durationS) return few;
  if (takes(many) <= durationS) return many;
  for (let i = 0; i < 40; i++) {
    const middle = Math.sqrt(Math.max(few, 1e-3) * many);
    if (takes(middle) < durationS) few = middle;
    else many = middle;
  }
  return few;
}

/**
 * What a part that was laid for one printer takes on another of its kind: at that one's speeds, with the settings that go with the
 * part, and those of the other that are of a nozzle where it has another. It is reckoned as an upright piece of the same
 * volume, skin, height and overhangs, in the layers of each of the two, and counts by their ratio; on a printer of the same
 * figures it is what was worked out.
 */
export function onPrinter(taken: Taken, piece: Piece, laidFor: LaidFor, on: PrinterProfile): Taken {
  const own = readKept(PrinterProfile, laidFor.printer);
  if (own.kind !== on.kind) return taken;
  const there = withPart(own, on);
  const estimate = (profile: PrinterProfile, ways: number): Estimate =>
    estimateFromLayers(uprightLayers(piece, profile.layerMm, ways), laidFor.supportMm3, profile);
  const ways = own.kind === 'resin' ? 0 : waysOf((n) => estimate(own, n).durationS, taken.durationS);
  const [then, now] = [estimate(own, ways), estimate(there, ways)];
  const ratio = (a: number, b: number): number => (a > 0 ? b / a : 1);
  const laying = (of: Estimate, { startS }: PrinterProfile): number => of.durationS - startS;
  return {
    durationS: there.startS + Math.max(0, taken.durationS - own.startS) * ratio(laying(then, own), laying(now, there)),
    materialG: taken.materialG * ratio(then.materialG, now.materialG),
  };
}
