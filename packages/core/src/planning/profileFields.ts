import type { PrinterKind } from '../params/checks.ts';
import { figures } from '../trade/figures.ts';
import { PrinterProfile } from './PrinterProfile.ts';

/**
 * What a field of a printer moves: hours and grams of a part, how it lies and what holds it up, where on the bed it may stand, room
 * beside it where things are printed in turn, cost, wear, and how parts go together.
 */
export type Moves = 'hours' | 'material' | 'pose' | 'bed' | 'inTurn' | 'cost' | 'wear' | 'joins';

/** How a field is filled in. */
export type FilledIn = 'words' | 'choice' | 'room' | 'length' | 'number' | 'yesNo' | 'table';

/** A field of a printer: what it is called, and what goes by it. Its limits stand at the field itself, in `PrinterProfile`. */
export interface ProfileField {
  label: string;
  /** stands behind its label; lengths have that of the page */
  unit?: string;
  hint?: string;
  as: FilledIn;
  group: keyof typeof fieldGroups;
  /** the one kind of printer that it is of; of all where left out */
  only?: PrinterKind;
  moves: readonly Moves[];
  /**
   * What becomes of it where a part goes to another printer: it stays with the part; it stays with it while the nozzle is the same,
   * since lines and layers are of a nozzle; or it is the other printer's.
   */
  goes: 'with the part' | 'with the nozzle' | 'with the printer';
  /** named in params only where it is not usual, as before there was such a field: what was worked out stays known */
  since?: true;
}

export const fieldGroups = {
  printer: 'Printer',
  lines: 'Layers and lines',
  speed: 'How fast',
  support: 'Support and fit',
  cost: 'Cost and wear',
} as const;

const own = { goes: 'with the printer' } as const;
const nozzle = { goes: 'with the nozzle' } as const;
const part = { goes: 'with the part' } as const;
const filament = { only: 'filament' } as const;
const resin = { only: 'resin' } as const;

/** All fields of a printer, in the order of the form. What is not here is no field: the compiler holds the two together. */
export const profileFields = {
  name: { label: 'Name', as: 'words', group: 'printer', moves: [], ...own },
  kind: { label: 'Kind', as: 'choice', group: 'printer', moves: ['hours', 'material', 'pose', 'bed'], ...own },
  bedMm: { label: 'Room', as: 'room', group: 'printer', moves: ['pose', 'bed'], ...own },
  marginMm: {
    label: 'Margin',
    hint: 'kept free along the sides of the bed',
    as: 'length',
    group: 'printer',
    moves: ['pose', 'bed'],
    ...own,
  },
  keepOuts: { label: 'Keep-outs of the bed, mm', as: 'table', group: 'printer', moves: ['pose', 'bed'], ...own },

  layerMm: { label: 'Layer', as: 'length', group: 'lines', moves: ['hours', 'material', 'pose'], ...nozzle },
  firstLayerMm: { label: 'First layer', as: 'length', group: 'lines', moves: ['hours', 'material', 'pose'], ...nozzle },
  nozzleMm: { label: 'Nozzle', as: 'length', group: 'lines', ...filament, moves: ['pose'], ...own },
  lineWidthMm: { label: 'Line', as: 'length', group: 'lines', ...filament, moves: ['hours', 'material'], ...nozzle },
  filamentDiameterMm: { label: 'Filament', as: 'length', group: 'lines', ...filament, moves: ['material'], ...own },
  walls: { label: 'Walls', as: 'number', group: 'lines', ...filament, moves: ['hours', 'material'], ...nozzle },
  solidLayers: {
    label: 'Solid layers',
    as: 'number',
    group: 'lines',
    ...filament,
    moves: ['hours', 'material'],
    ...nozzle,
  },
  infillPct: {
    label: 'Infill',
    unit: '%',
    as: 'number',
    group: 'lines',
    ...filament,
    moves: ['hours', 'material'],
    ...nozzle,
  },
  pixelMm: {
    label: 'Pixel',
    hint: 'noted: nothing goes by it yet',
    as: 'length',
    group: 'lines',
    ...resin,
    moves: [],
    ...own,
  },
  exposureS: { label: 'Exposure', unit: 's', as: 'number', group: 'lines', ...resin, moves: ['hours'], ...own },
  bottomExposureS: {
    label: 'Exposure of the first',
    unit: 's',
    as: 'number',
    group: 'lines',
    ...resin,
    moves: ['hours'],
    ...own,
  },
  bottomLayers: { label: 'First layers', as: 'number', group: 'lines', ...resin, moves: ['hours'], ...own },
  transitionLayers: {
    label: 'Layers until the usual',
    as: 'number',
    group: 'lines',
    ...resin,
    moves: ['hours'],
    ...own,
  },
  liftS: { label: 'Lift and rest', unit: 's', as: 'number', group: 'lines', ...resin, moves: ['hours'], ...own },

  wallSpeedMmS: { label: 'Walls', unit: 'mm/s', as: 'number', group: 'speed', ...filament, moves: ['hours'], ...own },
  infillSpeedMmS: {
    label: 'Infill',
    unit: 'mm/s',
    as: 'number',
    group: 'speed',
    ...filament,
    moves: ['hours'],
    ...own,
  },
  travelSpeedMmS: {
    label: 'Travel',
    unit: 'mm/s',
    as: 'number',
    group: 'speed',
    ...filament,
    moves: ['hours'],
    ...own,
    since: true,
  },
  accelerationMmS2: {
    label: 'Acceleration',
    unit: 'mm/s²',
    as: 'number',
    group: 'speed',
    ...filament,
    moves: ['hours'],
    ...own,
  },
  travelPct: {
    label: 'Travel and retraction',
    unit: '%',
    hint: `of the time spent laying, at ${figures.travelMmS.value} mm/s`,
    as: 'number',
    group: 'speed',
    ...filament,
    moves: ['hours'],
    ...own,
  },
  minLayerS: {
    label: 'Least time of a layer',
    unit: 's',
    hint: '0: as fast as it goes',
    as: 'number',
    group: 'speed',
    ...filament,
    moves: ['hours'],
    ...own,
  },
  maxFlowMm3S: { label: 'Flow', unit: 'mm³/s', as: 'number', group: 'speed', ...filament, moves: ['hours'], ...own },
  startS: { label: 'Until it begins', unit: 's', as: 'number', group: 'speed', moves: ['hours'], ...own },

  supports: { label: 'Supports', as: 'yesNo', group: 'support', moves: ['hours', 'material', 'pose'], ...nozzle },
  supportPct: {
    label: 'Share of support that is laid',
    unit: '%',
    hint: 'of the room under overhangs',
    as: 'number',
    group: 'support',
    moves: ['hours', 'material', 'pose'],
    ...nozzle,
  },
  overhangDeg: {
    label: 'Overhang',
    unit: '°',
    as: 'number',
    group: 'support',
    moves: ['hours', 'material', 'pose'],
    ...nozzle,
  },
  fitMm: {
    label: 'Fit gauge',
    hint: 'the step that went in',
    as: 'length',
    group: 'support',
    moves: ['joins'],
    ...own,
  },
  fits: { label: 'Fit by material, mm', as: 'table', group: 'support', moves: ['joins'], ...own },
  brimMm: {
    label: 'Brim',
    hint: 'around what stands on the bed; 0: none',
    as: 'length',
    group: 'support',
    ...filament,
    moves: ['hours', 'material', 'bed'],
    ...part,
    since: true,
  },
  raftMm: {
    label: 'Raft beyond the part',
    hint: '0: none',
    as: 'length',
    group: 'support',
    ...filament,
    moves: ['hours', 'material', 'bed'],
    ...part,
    since: true,
  },
  headRadiusMm: {
    label: 'Room round the head',
    hint: 'where things are printed one after the other',
    as: 'length',
    group: 'support',
    ...filament,
    moves: ['inTurn'],
    ...own,
    since: true,
  },
  headHeightMm: {
    label: 'Passes over',
    hint: 'what stands may be so high',
    as: 'length',
    group: 'support',
    ...filament,
    moves: ['inTurn'],
    ...own,
    since: true,
  },

  pricePerKg: { label: 'Material', unit: 'per kg', as: 'number', group: 'cost', moves: ['cost'], ...own },
  densityGCm3: { label: 'Density', unit: 'g/cm³', as: 'number', group: 'cost', moves: ['material'], ...own },
  powerW: { label: 'Power', unit: 'W', as: 'number', group: 'cost', moves: ['cost'], ...own },
  hoursRun: { label: 'Hours run before', as: 'number', group: 'cost', moves: ['wear'], ...own },
  partLifeH: {
    label: 'Nozzle or screen lasts',
    unit: 'h',
    hint: '0: nobody counts',
    as: 'number',
    group: 'cost',
    moves: ['wear'],
    ...own,
  },
  partSinceH: { label: 'Put in at', unit: 'h', as: 'number', group: 'cost', moves: ['wear'], ...own },
  notes: { label: 'Temperatures, notes', as: 'words', group: 'cost', moves: [], ...own },
} as const satisfies Record<keyof PrinterProfile, ProfileField>;

export type ProfileKey = keyof PrinterProfile;

const all = Object.entries(profileFields) as [ProfileKey, ProfileField][];

/** Fields by what they move. */
const fieldsThatMove = (...what: readonly Moves[]): ProfileKey[] =>
  all.filter(([, field]) => field.moves.some((m) => what.includes(m))).map(([key]) => key);

/** Fields of a printer that are another's where a part goes to it. @param sameNozzle lines and layers stay with the part */
export const fieldsOfPart = (sameNozzle: boolean): ProfileKey[] =>
  all
    .filter(([, { goes }]) => goes === 'with the part' || (sameNozzle && goes === 'with the nozzle'))
    .map(([key]) => key);

const usual = new PrinterProfile();

/** Of a printer the fields of a list; those that came later only where they are not usual. */
function pick(profile: PrinterProfile, keys: readonly ProfileKey[]): Partial<PrinterProfile> {
  const late = (key: ProfileKey): boolean =>
    (profileFields[key] as ProfileField).since === true && profile[key] === usual[key];
  return Object.fromEntries(
    keys.filter((key) => profile[key] !== undefined && !late(key)).map((key) => [key, profile[key]]),
  );
}

const ofPrinting = fieldsThatMove('hours', 'material', 'pose', 'bed');
const ofBeds = fieldsThatMove('hours', 'material', 'pose', 'bed', 'inTurn');
const ofHours = fieldsThatMove('hours', 'material');

/** Of a printer only what decides how a part prints: what was worked out stays known when a name or a price changes. */
export const printingOf = (profile: PrinterProfile): Partial<PrinterProfile> => pick(profile, ofPrinting);

/** The same, with what decides what may stand beside it on a bed. */
export const bedOf = (profile: PrinterProfile): Partial<PrinterProfile> => pick(profile, ofBeds);

/** Of a printer only what hours and grams of a part go by, and the nozzle whose lines they are. */
export const hoursBy = (profile: PrinterProfile): Partial<PrinterProfile> => pick(profile, ['nozzleMm', ...ofHours]);
