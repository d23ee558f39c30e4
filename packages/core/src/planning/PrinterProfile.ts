import {
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  type ValidationOptions,
} from 'class-validator';
import { troubleIn } from '../params/nested.ts';
import {
  by,
  IsKeepOuts,
  IsLengthMm,
  IsMm,
  IsPositiveTriple,
  printerKinds,
  type KeepOut,
  IsFits,
  type FitReading,
  type PrinterKind,
} from '../params/checks.ts';
import { figures } from '../trade/figures.ts';

/** No brim or raft reaches farther, mm. */
export const mostHoldMm = 50;

/** A printer with its settings and material. Figures not given take the trade's defaults. */
export class PrinterProfile {
  @IsString()
  @MaxLength(80)
  name: string = 'Printer';

  @IsIn(printerKinds)
  kind: PrinterKind = 'filament';

  /** Usable room x, y, z, mm. */
  @IsPositiveTriple()
  bedMm: [number, number, number] = [220, 220, 250];

  /** Places on the bed where nothing may stand, such as clips: corners x, y in mm. */
  @IsOptional()
  @IsKeepOuts()
  keepOuts: KeepOut[] = [];

  /** Kept free along the sides of the bed. */
  @IsOptional()
  @IsMm()
  marginMm: number = figures.bedMarginMm.value;

  @IsLengthMm()
  layerMm: number = figures.layerMm.value;

  @IsLengthMm()
  firstLayerMm: number = figures.firstLayerMm.value;

  /** Bore of the nozzle: lines, least walls and pauses follow from it. */
  @IsOptional()
  @IsLengthMm()
  nozzleMm: number = figures.nozzleMm.value;

  @IsNumber()
  @Min(0)
  @Max(1e6)
  pricePerKg: number = 20;

  /** g/cm³; usual for the kind of printer if left out. */
  @IsOptional()
  @IsNumber()
  @Min(0.1)
  @Max(30)
  densityGCm3?: number;

  /** Heating, homing, levelling, s. */
  @IsNumber()
  @Min(0)
  @Max(86400)
  startS: number = 300;

  @IsOptional()
  @IsLengthMm()
  lineWidthMm: number = 0.45;

  @IsOptional()
  @IsLengthMm()
  filamentDiameterMm: number = figures.filamentDiameterMm.value;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(100)
  walls: number = 3;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(100)
  solidLayers: number = 4;

  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(100)
  infillPct: number = 15;

  @IsOptional()
  @IsNumber()
  @Min(1)
  @Max(2000)
  wallSpeedMmS: number = 50;

  @IsOptional()
  @IsNumber()
  @Min(1)
  @Max(2000)
  infillSpeedMmS: number = 80;

  /** What the hot end can melt, mm3/s. */
  @IsOptional()
  @IsNumber()
  @Min(0.1)
  @Max(500)
  maxFlowMm3S: number = 12;

  /** Travel and retraction, as a share of the time spent laying, of a head that travels at the usual speed. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(500)
  travelPct: number = 10;

  /** No layer is laid faster than this, so that the one below can cool, s; 0: as fast as it goes. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(600)
  minLayerS: number = 0;

  @IsOptional()
  @IsBoolean()
  supports: boolean = true;

  @IsOptional()
  @IsNumber()
  @Min(1)
  @Max(100)
  supportPct: number = 15;

  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(90)
  overhangDeg: number = figures.overhangDeg.value;

  /** Resin: light on a layer, s. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(600)
  exposureS: number = 2.5;

  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(600)
  bottomExposureS: number = 30;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(100)
  bottomLayers: number = 5;

  /** Resin: layers behind the first ones over which their light falls evenly to the usual. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(100)
  transitionLayers: number = 0;

  /** Resin: side of a pixel of the screen. */
  @IsOptional()
  @IsLengthMm()
  pixelMm: number = figures.pixelMm.value;

  @IsOptional()
  @IsNumber()
  @Min(1)
  @Max(2000)
  travelSpeedMmS: number = figures.travelMmS.value;

  @IsOptional()
  @IsNumber()
  @Min(10)
  @Max(100_000)
  accelerationMmS2: number = 1500;

  /** Temperatures and whatever else is set by hand. */
  @IsOptional()
  @IsString()
  @MaxLength(2000)
  notes: string = '';

  /** Brim around what stands on the bed, a layer high; 0: none. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(mostHoldMm)
  brimMm: number = 0;

  /** How far a raft reaches beyond what stands on it; 0: none. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(mostHoldMm)
  raftMm: number = 0;

  /** While it prints. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(20_000)
  powerW: number = 120;

  /** Room that the head needs beside what stands on the bed, when things are printed one after the other. */
  @IsOptional()
  @IsMm()
  headRadiusMm: number = 45;

  /** What stands may be so high where the head's carriage passes over it. */
  @IsOptional()
  @IsMm()
  headHeightMm: number = 25;

  /** Hours that it had run before its log was kept here. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1e6)
  hoursRun: number = 0;

  /** Hours that its nozzle or screen lasts; 0 where nobody counts. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1e6)
  partLifeH: number = 0;

  /** Hours run when that was last replaced. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(1e6)
  partSinceH: number = 0;

  /** The step of the fit gauge that went in: room between parts that are pushed together. */
  @IsOptional()
  @IsMm()
  fitMm: number = figures.fitClearanceMm.value;

  /** The same by material, where it was tried. */
  @IsOptional()
  @IsFits()
  fits: FitReading[] = [];

  /** Resin: lift, lower and rest between layers, s. */
  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(600)
  liftS: number = 8;
}

/** What is wrong with the settings of a printer; empty where nothing is. */
const troubleWith = (value: unknown): string => troubleIn(PrinterProfile, value);

/** A printer by whatever of its settings is not usual: see `PrinterProfile`. */
export const IsPrinter = (options?: ValidationOptions) =>
  by(
    'isPrinter',
    (v) => troubleWith(v) === '',
    (v) => `the settings of a printer: ${troubleWith(v)}`,
    { type: 'object', description: 'any of the fields of a PrinterProfile; those left out are usual' },
    options,
  );

/** One printer or several, each with a name of its own. */
export const ArePrinters = (options?: ValidationOptions) =>
  by(
    'arePrinters',
    (v) =>
      Array.isArray(v) &&
      v.length > 0 &&
      v.length <= 20 &&
      v.every((p) => troubleWith(p) === '') &&
      new Set(v.map((p: { name?: string }) => p.name)).size === v.length,
    (v) =>
      `one to twenty printers, each with a name of its own${
        Array.isArray(v)
          ? v
              .map(troubleWith)
              .filter(Boolean)
              .slice(0, 1)
              .map((t) => `: ${t}`)
              .join('')
          : ''
      }`,
    {
      type: 'array',
      items: { type: 'object', description: 'any of the fields of a PrinterProfile' },
      minItems: 1,
      maxItems: 20,
    },
    options,
  );

/** g/cm³ of what a printer prints with: as said, or usual for its kind. */
export const densityOf = ({ kind, densityGCm3 }: Pick<PrinterProfile, 'kind' | 'densityGCm3'>): number =>
  densityGCm3 ?? (kind === 'resin' ? figures.resinDensityGCm3 : figures.filamentDensityGCm3).value;

/**
 * A printer of a kind with usual settings.
 *
 * @param layerMm usual for the kind if left out: of a nozzle half its bore (common practice)
 * @param nozzleMm its lines are as wide, beside its bore, as those of the usual one; resin has none
 */
export function usualProfile(kind: PrinterKind, layerMm?: number, nozzleMm?: number): PrinterProfile {
  const profile = Object.assign(new PrinterProfile(), { kind });
  const larger = kind === 'filament' && nozzleMm ? nozzleMm / profile.nozzleMm : 1;
  profile.nozzleMm *= larger;
  profile.lineWidthMm *= larger;
  profile.layerMm = layerMm ?? (kind === 'resin' ? figures.resinLayerMm.value : figures.layerMm.value * larger);
  return profile;
}
