import { quietContext, sliceContext, type RunContext } from '../run/context.ts';
import { boundsOf, type TriMesh } from '../mesh/TriMesh.ts';
import { sweepLayers } from '../section/layers.ts';
import { gramsPerMetre } from '../trade/figures.ts';
import { supportUnder } from './pose/underneath.ts';
import { densityOf, type PrinterProfile } from './PrinterProfile.ts';

export interface Estimate {
  durationS: number;
  materialG: number;
  materialMl: number;
  /** 0 for resin */
  filamentM: number;
  cost: number;
  supportVolumeMm3: number;
  layers: number;
  /** seconds of each phase */
  byPhase: Record<string, number>;
}

/** Layers of a piece as far as its time and material go. */
export interface LayerSums {
  /** distance of the layers that were looked at; resin may be looked at in fewer than it is laid in */
  layerMm: number;
  heightMm: number;
  areas: number[];
  perimeters: number[];
}

/** Speed of a nozzle, mm/s: what is asked for, held to what the hot end can melt. */
export const speedOf = (
  mmS: number,
  layerMm: number,
  { maxFlowMm3S, lineWidthMm }: Pick<PrinterProfile, 'maxFlowMm3S' | 'lineWidthMm'>,
): number => Math.min(mmS, maxFlowMm3S / (lineWidthMm * layerMm));

/**
 * Lines that a nozzle lays in each layer, mm: walls along the outline, and what fills the rest; solid where neither the
 * layers above nor those below cover it.
 */
export function linesOf(
  areas: readonly number[],
  perimeters: readonly number[],
  { walls, lineWidthMm: w, solidLayers, infillPct }: PrinterProfile,
): { wallMm: Float64Array; fillMm: Float64Array } {
  const wallMm = new Float64Array(areas.length);
  const fillMm = new Float64Array(areas.length);
  for (let i = 0; i < areas.length; i++) {
    const wall = Math.min(areas[i], perimeters[i] * walls * w);
    const inner = areas[i] - wall;
    let covered = areas[i];
    for (let k = 1; k <= solidLayers; k++) covered = Math.min(covered, areas[i - k] ?? 0, areas[i + k] ?? 0);
    const solid = Math.min(inner, areas[i] - covered);
    wallMm[i] = wall / w;
    fillMm[i] = (solid + ((inner - solid) * infillPct) / 100) / w;
  }
  return { wallMm, fillMm };
}

/** Time to lay walls and what fills them in layers of a height, travel with it, s. */
export const layingS = (wallMm: number, fillMm: number, layerMm: number, profile: PrinterProfile): number =>
  (wallMm / speedOf(profile.wallSpeedMmS, layerMm, profile) +
    fillMm / speedOf(profile.infillSpeedMmS, layerMm, profile)) *
  (1 + profile.travelPct / 100);

/** Time, material and cost from sections. @param columnsMm3 room under overhangs that support fills */
export function estimateFromLayers(
  { layerMm, heightMm, areas, perimeters }: LayerSums,
  columnsMm3: number,
  profile: PrinterProfile,
): Estimate {
  const supportVolumeMm3 = profile.supports ? (columnsMm3 * profile.supportPct) / 100 : 0;
  const flesh = areas.reduce((a, b) => a + b, 0) * layerMm;
  const of = (volumeMm3: number, phases: Record<string, number>, layers: number): Estimate => {
    const materialG = (volumeMm3 / 1000) * densityOf(profile);
    return {
      durationS: Object.values(phases).reduce((a, b) => a + b, 0),
      materialG,
      materialMl: volumeMm3 / 1000,
      filamentM:
        profile.kind === 'filament' ? materialG / gramsPerMetre(profile.filamentDiameterMm, densityOf(profile)) : 0,
      cost: (materialG / 1000) * profile.pricePerKg,
      supportVolumeMm3,
      layers,
      byPhase: phases,
    };
  };
  if (profile.kind === 'resin') {
    const layers = Math.max(1, Math.ceil(heightMm / profile.layerMm - 1e-4));
    const bottom = Math.min(profile.bottomLayers, layers);
    const light = bottom * profile.bottomExposureS + (layers - bottom) * profile.exposureS;
    return of(
      flesh + supportVolumeMm3,
      { prepare: profile.startS, exposure: light, lift: layers * profile.liftS },
      layers,
    );
  }
  const w = profile.lineWidthMm;
  const line = w * layerMm;
  const lines = linesOf(areas, perimeters, profile);
  const [wallMm, fillMm] = [lines.wallMm, lines.fillMm].map((all) => all.reduce((a, b) => a + b, 0));
  const walls = wallMm / speedOf(profile.wallSpeedMmS, layerMm, profile);
  const fill = fillMm / speedOf(profile.infillSpeedMmS, layerMm, profile);
  const support = supportVolumeMm3 / line / speedOf(profile.infillSpeedMmS, layerMm, profile);
  const travel = ((walls + fill + support) * profile.travelPct) / 100;
  return of(
    (wallMm + fillMm) * line + supportVolumeMm3,
    { prepare: profile.startS, walls, fill, support, travel },
    areas.length,
  );
}

/**
 * Time, material and cost of one piece as it stands (z up), from its layers.
 *
 * Filament: walls follow each layer's outline; solid skins cover what neither the layers above nor those below cover;
 * the rest is infill; speeds are held to what the hot end can melt. Resin: time follows the number of layers alone.
 */
export function estimatePiece(mesh: TriMesh, profile: PrinterProfile, context: RunContext = quietContext): Estimate {
  const { min, max } = boundsOf(mesh);
  const sums: LayerSums = { layerMm: profile.layerMm, heightMm: max[2] - min[2], areas: [], perimeters: [] };
  sweepLayers(mesh, profile.layerMm, [0, 0, 1], sliceContext(context, 0, 0.7), (section) => {
    sums.areas.push(Math.max(0, section.areaMm2));
    sums.perimeters.push(section.perimeterMm);
  });
  const columns = profile.supports ? supportUnder(mesh, profile, sliceContext(context, 0.7, 1)) : 0;
  return estimateFromLayers(sums, columns, profile);
}

/** A piece by its volume and skin alone. */
export interface RoughPiece {
  volumeMm3: number;
  areaMm2: number;
  heightMm: number;
  /** room under its overhangs */
  columnsMm3: number;
}

/** What is laid of a piece as walls, as filling and as support, mm³: walls as deep as the printer's lines lie under all of its skin. */
function roughVolumes({ volumeMm3, areaMm2, columnsMm3 }: RoughPiece, profile: PrinterProfile) {
  const walls = Math.min(volumeMm3, areaMm2 * profile.walls * profile.lineWidthMm);
  const fill = ((volumeMm3 - walls) * profile.infillPct) / 100;
  const support = profile.supports ? (columnsMm3 * profile.supportPct) / 100 : 0;
  return { walls, fill, support };
}

/** Material of a piece from its volume and skin alone, mm³: for comparing settings. */
export function roughMaterialMm3(piece: RoughPiece, profile: PrinterProfile): number {
  const { walls, fill, support } = roughVolumes(piece, profile);
  return (profile.kind === 'resin' ? piece.volumeMm3 : walls + fill) + support;
}

/** Time of a piece from its volume and skin alone, s: for comparing plans and settings, where no layers are worked out. */
export function roughDurationS(piece: RoughPiece, profile: PrinterProfile): number {
  const layers = Math.ceil(piece.heightMm / profile.layerMm);
  if (profile.kind === 'resin')
    return (
      profile.startS +
      layers * (profile.exposureS + profile.liftS) +
      Math.min(profile.bottomLayers, layers) * (profile.bottomExposureS - profile.exposureS)
    );
  const line = profile.lineWidthMm * profile.layerMm;
  const mm3S = (mmS: number) => Math.min(mmS * line, profile.maxFlowMm3S);
  const { walls, fill, support } = roughVolumes(piece, profile);
  const laying = walls / mm3S(profile.wallSpeedMmS) + (fill + support) / mm3S(profile.infillSpeedMmS);
  return profile.startS + laying * (1 + profile.travelPct / 100);
}
