import { quietContext, sliceContext, type RunContext } from '../run/context.ts';
import { boundsOf, type TriMesh } from '../mesh/TriMesh.ts';
import { sweepLayers } from '../section/layers.ts';
import { figures, gramsPerMetre } from '../trade/figures.ts';
import { chordMm, haltsS, waysOf } from './motion.ts';
import { supportUnder } from './pose/underneath.ts';
import { densityOf, type PrinterProfile } from './PrinterProfile.ts';

export interface Estimate {
  durationS: number;
  materialG: number;
  materialMl: number;
  /** 0 for resin */
  filamentM: number;
  cost: number;
  energyKWh: number;
  /** of the hours that a nozzle or screen lasts; null where nobody counts them */
  wearPct: number | null;
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
  /** ways from corner to corner along the outlines; nobody stops where they are left out */
  ways?: number[];
}

/** Speed of a nozzle, mm/s: what is asked for, held to what the hot end can melt. */
const speedOf = (
  mmS: number,
  layerMm: number,
  { maxFlowMm3S, lineWidthMm }: Pick<PrinterProfile, 'maxFlowMm3S' | 'lineWidthMm'>,
): number => Math.min(mmS, maxFlowMm3S / (lineWidthMm * layerMm));

/** Travel and retraction as a share of the time spent laying: what is said of it, by how fast the head travels. */
const travelShare = ({ travelPct, travelSpeedMmS }: Pick<PrinterProfile, 'travelPct' | 'travelSpeedMmS'>): number =>
  ((travelPct / 100) * figures.travelMmS.value) / travelSpeedMmS;

/** What a nozzle lays in each layer, mm, and what speeding up and slowing down costs there, s. */
export interface LaidLines {
  wallMm: Float64Array;
  fillMm: Float64Array;
  haltS: Float64Array;
}

/**
 * Lines that a nozzle lays in each layer: walls along the outline, and what fills the rest; solid where neither the
 * layers above nor those below cover it. Every way from corner to corner, and every line of the filling, is begun and
 * ended at rest.
 */
export function linesOf(
  areas: readonly number[],
  perimeters: readonly number[],
  profile: PrinterProfile,
  ways: readonly number[] = [],
): LaidLines {
  const { walls, lineWidthMm: w, solidLayers, infillPct, layerMm, accelerationMmS2: a } = profile;
  const wallMmS = speedOf(profile.wallSpeedMmS, layerMm, profile);
  const fillMmS = speedOf(profile.infillSpeedMmS, layerMm, profile);
  const wallMm = new Float64Array(areas.length);
  const fillMm = new Float64Array(areas.length);
  const haltS = new Float64Array(areas.length);
  for (let i = 0; i < areas.length; i++) {
    const wall = Math.min(areas[i], perimeters[i] * walls * w);
    const inner = areas[i] - wall;
    let covered = areas[i];
    for (let k = 1; k <= solidLayers; k++) covered = Math.min(covered, areas[i - k] ?? 0, areas[i + k] ?? 0);
    const solid = Math.min(inner, areas[i] - covered);
    wallMm[i] = wall / w;
    fillMm[i] = (solid + ((inner - solid) * infillPct) / 100) / w;
    const n = ways[i] ?? 0;
    if (n === 0) continue;
    const chord = chordMm(inner, perimeters[i]);
    haltS[i] =
      haltsS(walls * n, perimeters[i] / n, wallMmS, a) + (chord > 0 ? haltsS(fillMm[i] / chord, chord, fillMmS, a) : 0);
  }
  return { wallMm, fillMm, haltS };
}

/** Time to lay walls and what fills them in layers of a height, travel and halts with it, s. */
export const layingS = (
  wallMm: number,
  fillMm: number,
  layerMm: number,
  profile: PrinterProfile,
  haltS: number = 0,
): number =>
  (wallMm / speedOf(profile.wallSpeedMmS, layerMm, profile) +
    fillMm / speedOf(profile.infillSpeedMmS, layerMm, profile) +
    haltS) *
  (1 + travelShare(profile));

/**
 * What speeding up and slowing down costs on the lines of support, s: as if all of it stood in one square block, which has
 * the longest lines and so the fewest; in truth it is a little more.
 */
export function supportHaltsS(
  columnsMm3: number,
  heightMm: number,
  { layerMm, lineWidthMm, supportPct, infillSpeedMmS, ...profile }: PrinterProfile,
): number {
  if (!(columnsMm3 > 0 && heightMm > 0)) return 0;
  const areaMm2 = columnsMm3 / heightMm;
  const chord = chordMm(areaMm2, 4 * Math.sqrt(areaMm2));
  const lines = (areaMm2 * supportPct) / 100 / lineWidthMm / chord;
  const mmS = speedOf(infillSpeedMmS, layerMm, { ...profile, lineWidthMm });
  return haltsS((heightMm / layerMm) * lines, chord, mmS, profile.accelerationMmS2);
}

/** Light on a layer of resin, by its number from 0: much on the first, falling evenly to the usual over those behind. */
export function exposureOf(
  layer: number,
  { bottomLayers, transitionLayers, bottomExposureS, exposureS }: PrinterProfile,
): number {
  if (layer < bottomLayers) return bottomExposureS;
  const step = layer - bottomLayers + 1;
  return step > transitionLayers
    ? exposureS
    : bottomExposureS + ((exposureS - bottomExposureS) * step) / (transitionLayers + 1);
}

/** Brim or raft around a first layer, mm² that it covers beyond the part and with it: an outline grown by a distance (Steiner 1840). */
const grownMm2 = (areaMm2: number, perimeterMm: number, byMm: number): number =>
  areaMm2 + perimeterMm * byMm + Math.PI * byMm * byMm;

/** What holds a part of filament on the bed, mm³. */
function holdMm3(
  { areas, perimeters }: Pick<LayerSums, 'areas' | 'perimeters'>,
  { kind, brimMm, raftMm, layerMm, firstLayerMm }: PrinterProfile,
): { brim: number; raft: number } {
  const [area = 0] = areas;
  const [perimeter = 0] = perimeters;
  if (kind === 'resin' || area <= 0) return { brim: 0, raft: 0 };
  return {
    brim: brimMm > 0 ? (grownMm2(area, perimeter, brimMm) - area) * firstLayerMm : 0,
    raft: raftMm > 0 ? grownMm2(area, perimeter, raftMm) * figures.raftLayers.value * layerMm : 0,
  };
}

/** Time, material and cost from sections. @param columnsMm3 room under overhangs that support fills */
export function estimateFromLayers(
  { layerMm, heightMm, areas, perimeters, ways }: LayerSums,
  columnsMm3: number,
  profile: PrinterProfile,
): Estimate {
  const supportVolumeMm3 = profile.supports ? (columnsMm3 * profile.supportPct) / 100 : 0;
  const flesh = areas.reduce((a, b) => a + b, 0) * layerMm;
  const of = (volumeMm3: number, phases: Record<string, number>, layers: number): Estimate => {
    const materialG = (volumeMm3 / 1000) * densityOf(profile);
    const durationS = Object.values(phases).reduce((a, b) => a + b, 0);
    return {
      durationS,
      energyKWh: (profile.powerW * durationS) / 3.6e6,
      wearPct: profile.partLifeH > 0 ? (100 * durationS) / 3600 / profile.partLifeH : null,
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
    let light = 0;
    const first = Math.min(layers, profile.bottomLayers + profile.transitionLayers);
    for (let i = 0; i < first; i++) light += exposureOf(i, profile);
    light += (layers - first) * profile.exposureS;
    return of(
      flesh + supportVolumeMm3,
      { prepare: profile.startS, exposure: light, lift: layers * profile.liftS },
      layers,
    );
  }
  const w = profile.lineWidthMm;
  const line = w * layerMm;
  const lines = linesOf(areas, perimeters, profile, ways);
  const [wallMm, fillMm] = [lines.wallMm, lines.fillMm].map((all) => all.reduce((a, b) => a + b, 0));
  const walls = wallMm / speedOf(profile.wallSpeedMmS, layerMm, profile);
  const fill = fillMm / speedOf(profile.infillSpeedMmS, layerMm, profile);
  const support = supportVolumeMm3 / line / speedOf(profile.infillSpeedMmS, layerMm, profile);
  const hold = holdMm3({ areas, perimeters }, profile);
  const held = (hold.brim + hold.raft) / line / speedOf(profile.wallSpeedMmS, layerMm, profile);
  const halts =
    lines.haltS.reduce((a, b) => a + b, 0) +
    (ways && profile.supports ? supportHaltsS(columnsMm3, heightMm, { ...profile, layerMm }) : 0);
  const travel = (walls + fill + support + held + halts) * travelShare(profile);
  let cooling = 0;
  if (profile.minLayerS > 0)
    for (let i = 0; i < areas.length; i++) {
      const s = layingS(lines.wallMm[i], lines.fillMm[i], layerMm, profile, lines.haltS[i]);
      cooling += Math.max(0, profile.minLayerS - s);
    }
  return of(
    (wallMm + fillMm) * line + supportVolumeMm3 + hold.brim + hold.raft,
    {
      prepare: profile.startS,
      walls,
      fill,
      support,
      ...(held > 0 ? { 'brim and raft': held } : {}),
      halts,
      travel,
      cooling,
    },
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
  const sums: LayerSums = { layerMm: profile.layerMm, heightMm: max[2] - min[2], areas: [], perimeters: [], ways: [] };
  sweepLayers(mesh, profile.layerMm, [0, 0, 1], sliceContext(context, 0, 0.7), (section) => {
    sums.areas.push(Math.max(0, section.areaMm2));
    sums.perimeters.push(section.perimeterMm);
    if (profile.kind === 'filament') sums.ways?.push(waysOf(section));
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
      (Math.min(profile.bottomLayers, layers) + profile.transitionLayers / 2) *
        (profile.bottomExposureS - profile.exposureS)
    );
  const line = profile.lineWidthMm * profile.layerMm;
  const mm3S = (mmS: number) => Math.min(mmS * line, profile.maxFlowMm3S);
  const { walls, fill, support } = roughVolumes(piece, profile);
  const laying = walls / mm3S(profile.wallSpeedMmS) + (fill + support) / mm3S(profile.infillSpeedMmS);
  return profile.startS + laying * (1 + figures.haltsShare.value) * (1 + travelShare(profile));
}
