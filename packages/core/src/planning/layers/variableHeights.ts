import type { TriMesh } from '../../mesh/TriMesh.ts';
import { figures } from '../../trade/figures.ts';
import { layingS, linesOf } from '../estimate.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';

/** A stretch of heights laid in layers of one thickness. */
export interface Zone {
  fromMm: number;
  toMm: number;
  layerMm: number;
}

export interface VariableHeights {
  zones: Zone[];
  /** of the machine, laying alone, s: in these zones, and in layers all alike */
  durationS: number;
  evenS: number;
  /** highest step on the skin, mm: in these zones, and in layers all alike */
  stepMm: number;
  evenStepMm: number;
}

/** Zones lower than this are not worth a change, mm. */
const leastZoneMm = 2;
/** Skin that lies more level than this has no steps: it is a top or an underside. */
const level = Math.cos((3 * Math.PI) / 180);
/** Share of the skin of a band that may have higher steps: corners and specks do not decide. */
const share = 0.05;
/** Resin printers lay such layers, mm. Common practice. */
const resinLayersMm = [0.025, 0.03, 0.04, 0.05, 0.08, 0.1];

/** Thicknesses that a printer lays. */
function thicknesses({ kind, nozzleMm }: PrinterProfile): number[] {
  if (kind === 'resin') return resinLayersMm;
  const step = figures.layerStepMm.value;
  const out: number[] = [];
  const most = nozzleMm * figures.thickestLayerShare.value;
  for (let i = Math.ceil((nozzleMm * figures.thinnestLayerShare.value) / step - 1e-6); i * step <= most + 1e-9; i++)
    out.push(Number((i * step).toFixed(4)));
  return out;
}

/**
 * Upright share of the normals of the skin in bands of heights: that which all but a few hundredths of the skin of a band
 * keep below.
 */
function steepness(
  { positions: p, triangles: t }: TriMesh,
  rise: Float32Array,
  areas: ArrayLike<number>,
  floor: number,
  bandMm: number,
  bands: number,
): Float64Array {
  const bins = 32;
  const sums = new Float64Array(bands * bins);
  for (let i = 0; i < rise.length; i++) {
    const r = Math.abs(rise[i]);
    if (r > level || !(areas[i] > 0)) continue;
    const z = [0, 1, 2].map((k) => p[3 * t[3 * i + k] + 2] - floor);
    const from = Math.max(0, Math.floor(Math.min(...z) / bandMm));
    const to = Math.min(bands - 1, Math.floor(Math.max(...z) / bandMm));
    for (let b = from; b <= to; b++)
      sums[b * bins + Math.min(bins - 1, Math.floor(r * bins))] += areas[i] / (to - from + 1);
  }
  return Float64Array.from({ length: bands }, (_, b) => {
    let all = 0;
    for (let k = 0; k < bins; k++) all += sums[b * bins + k];
    let above = 0;
    for (let k = bins - 1; k >= 0; k--) {
      above += sums[b * bins + k];
      if (above > share * all) return (k + 1) / bins;
    }
    return 0;
  });
}

/**
 * Layers that are thin where the skin leans and thick where it stands upright, so that steps stay as low as a slope of 45
 * degrees has them now (adaptive slicing by cusp height: Dolenc and Mäkelä 1994). Null where nothing is gained.
 *
 * @param mesh as it lies; `rise` the upright share of each triangle's normal
 * @param areas, perimeters of layers all alike
 */
export function variableHeights(
  mesh: TriMesh,
  rise: Float32Array,
  triangleAreas: ArrayLike<number>,
  floor: number,
  layers: {
    areas: readonly number[];
    perimeters: readonly number[];
    ways?: readonly number[];
    layerMm: number;
    heightMm: number;
  },
  profile: PrinterProfile,
): VariableHeights | null {
  const bandMm = leastZoneMm;
  const bands = Math.max(1, Math.ceil(layers.heightMm / bandMm - 1e-6));
  const steep = steepness(mesh, rise, triangleAreas, floor, bandMm, bands);
  const choices = thicknesses(profile);
  const wanted = profile.layerMm * Math.SQRT1_2;
  const heights = Array.from(steep, (s) => choices.findLast((h) => h * s <= wanted + 1e-9) ?? choices[0]);
  const zones: Zone[] = [];
  heights.forEach((layerMm, b) => {
    const toMm = Math.min(layers.heightMm, (b + 1) * bandMm);
    const last = zones.at(-1);
    if (last?.layerMm === layerMm) last.toMm = toMm;
    else zones.push({ fromMm: b * bandMm, toMm, layerMm });
  });
  const { areas, perimeters } = layers;
  const lines = profile.kind === 'filament' ? linesOf(areas, perimeters, profile, layers.ways) : null;
  /** Time to lay all between two heights in layers of that thickness, s. */
  const timeOf = (from: number, to: number, h: number): number => {
    if (!lines) return ((to - from) / h) * (profile.exposureS + profile.liftS);
    let sum = 0;
    const first = Math.floor(from / layers.layerMm);
    const end = Math.min(areas.length, Math.ceil(to / layers.layerMm - 1e-6));
    for (let i = first; i < end; i++) sum += layingS(lines.wallMm[i], lines.fillMm[i], h, profile, lines.haltS[i]);
    return (sum * layers.layerMm) / h;
  };
  const worst = (h: (b: number) => number): number => steep.reduce((most, s, b) => Math.max(most, s * h(b)), 0);
  const evenS = timeOf(0, layers.heightMm, profile.layerMm);
  const durationS = zones.reduce((sum, z) => sum + timeOf(z.fromMm, z.toMm, z.layerMm), 0);
  if (zones.length === 1 && zones[0].layerMm === profile.layerMm) return null;
  return {
    zones,
    durationS,
    evenS,
    stepMm: worst((b) => heights[b]),
    evenStepMm: worst(() => profile.layerMm),
  };
}
