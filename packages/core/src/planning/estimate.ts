import { treeOf } from '../mesh/Bvh.ts';
import { quietContext, sliceContext, type RunContext } from '../run/context.ts';
import { triangleArea, triangleCentre, triangleNormal } from '../mesh/measures.ts';
import { boundsOf, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';
import { sweepLayers } from '../section/layers.ts';
import { gramsPerMetre } from '../trade/figures.ts';
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

/**
 * Room under overhangs, mm3: under every triangle that leans out more than the limit, its shadow on the bed times the
 * drop to the bed or to the part below.
 */
export function supportColumnVolume(
  mesh: TriMesh,
  overhangDeg: number,
  layerMm: number,
  context: RunContext = quietContext,
): number {
  const floor = boundsOf(mesh).min[2];
  const tree = treeOf(mesh);
  // a face whose normal points down by more than this leans out too far
  const limit = -Math.sin((overhangDeg * Math.PI) / 180) - 1e-6;
  let sum = 0;
  for (let t = 0; t < triangleCount(mesh); t++) {
    if ((t & 1023) === 0) {
      context.checkCancelled();
      context.progress(t / triangleCount(mesh), 'Looking under overhangs');
    }
    const n = triangleNormal(mesh, t);
    if (n[2] >= limit) continue;
    const [x, y, z] = triangleCentre(mesh, t);
    if (z - floor < 1.5 * layerMm) continue;
    const drop = Math.min(z - floor, tree.firstHit([x, y, z], [0, 0, -1], 1e-4, t));
    const { triangles, positions } = mesh;
    sum += -n[2] * triangleArea(positions, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]) * drop;
  }
  return sum;
}

/**
 * Time, material and cost of one piece as it stands (z up), from its layers.
 *
 * Filament: walls follow each layer's outline; solid skins cover what neither the layers above nor those below cover;
 * the rest is infill; speeds are held to what the hot end can melt. Resin: time follows the number of layers alone.
 */
export function estimatePiece(mesh: TriMesh, profile: PrinterProfile, context: RunContext = quietContext): Estimate {
  const h = profile.layerMm;
  const areas: number[] = [];
  const perimeters: number[] = [];
  const report = sweepLayers(mesh, h, [0, 0, 1], sliceContext(context, 0, 0.7), (section) => {
    areas.push(Math.max(0, section.areaMm2));
    perimeters.push(section.perimeterMm);
  });
  const columns = profile.supports
    ? supportColumnVolume(mesh, profile.overhangDeg, h, sliceContext(context, 0.7, 1))
    : 0;
  const supportVolumeMm3 = (columns * profile.supportPct) / 100;
  if (profile.kind === 'resin') {
    const bottom = Math.min(profile.bottomLayers, report.layers);
    const volume = report.totalAreaMm2 * h + supportVolumeMm3;
    const light = bottom * profile.bottomExposureS + (report.layers - bottom) * profile.exposureS;
    const lift = report.layers * profile.liftS;
    const materialG = (volume / 1000) * densityOf(profile);
    return {
      durationS: profile.startS + light + lift,
      materialG,
      materialMl: volume / 1000,
      filamentM: 0,
      cost: (materialG / 1000) * profile.pricePerKg,
      supportVolumeMm3,
      layers: report.layers,
      byPhase: { prepare: profile.startS, exposure: light, lift },
    };
  }
  const w = profile.lineWidthMm;
  const line = w * h;
  const speed = (mmS: number) => Math.min(mmS, profile.maxFlowMm3S / line);
  let wallMm = 0;
  let solidMm2 = 0;
  let fillMm2 = 0;
  for (let i = 0; i < areas.length; i++) {
    const walls = Math.min(areas[i], perimeters[i] * profile.walls * w);
    const inner = areas[i] - walls;
    let covered = areas[i];
    for (let k = 1; k <= profile.solidLayers; k++) covered = Math.min(covered, areas[i - k] ?? 0, areas[i + k] ?? 0);
    const solid = Math.min(inner, areas[i] - covered);
    wallMm += walls / w;
    solidMm2 += solid;
    fillMm2 += inner - solid;
  }
  const fillMm = (solidMm2 + (fillMm2 * profile.infillPct) / 100) / w;
  const supportMm = supportVolumeMm3 / line;
  const volume = (wallMm + fillMm) * line + supportVolumeMm3;
  const walls = wallMm / speed(profile.wallSpeedMmS);
  const fill = fillMm / speed(profile.infillSpeedMmS);
  const support = supportMm / speed(profile.infillSpeedMmS);
  const travel = ((walls + fill + support) * profile.travelPct) / 100;
  const materialG = (volume / 1000) * densityOf(profile);
  return {
    durationS: profile.startS + walls + fill + support + travel,
    materialG,
    materialMl: volume / 1000,
    filamentM: materialG / gramsPerMetre(profile.filamentDiameterMm, densityOf(profile)),
    cost: (materialG / 1000) * profile.pricePerKg,
    supportVolumeMm3,
    layers: report.layers,
    byPhase: { prepare: profile.startS, walls, fill, support, travel },
  };
}

/**
 * Time of a piece from its volume and skin alone, s: for comparing plans, where no layers are worked out. Walls as deep as
 * the printer's lines lie under all of its skin.
 *
 * @param piece columnsMm3 is the room under its overhangs
 */
export function roughDurationS(
  piece: { volumeMm3: number; areaMm2: number; heightMm: number; columnsMm3: number },
  profile: PrinterProfile,
): number {
  const layers = Math.ceil(piece.heightMm / profile.layerMm);
  if (profile.kind === 'resin')
    return (
      profile.startS +
      layers * (profile.exposureS + profile.liftS) +
      Math.min(profile.bottomLayers, layers) * (profile.bottomExposureS - profile.exposureS)
    );
  const line = profile.lineWidthMm * profile.layerMm;
  const mm3S = (mmS: number) => Math.min(mmS * line, profile.maxFlowMm3S);
  const walls = Math.min(piece.volumeMm3, piece.areaMm2 * profile.walls * profile.lineWidthMm);
  const fill = ((piece.volumeMm3 - walls) * profile.infillPct) / 100;
  const support = profile.supports ? (piece.columnsMm3 * profile.supportPct) / 100 : 0;
  const laying = walls / mm3S(profile.wallSpeedMmS) + (fill + support) / mm3S(profile.infillSpeedMmS);
  return profile.startS + laying * (1 + profile.travelPct / 100);
}
