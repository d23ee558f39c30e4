import { boundsOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import type { RunContext } from '../../run/context.ts';
import { figures } from '../../trade/figures.ts';
import type { CleanBox } from '../cuts/CleanBox.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { cellFor, columnsOf, isFleshUnder, type Columns } from './columns.ts';
import { posedSkin, riseOf, type PosedSkin } from './PosedSkin.ts';

/** What stands under the overhangs of a solid as it lies, and where it would leave marks. */
export interface Underneath {
  /** skin that leans out too far to be laid without support, mm² */
  overhangMm2: number;
  /** room to be filled with support that can be taken off again, mm³ */
  supportMm3: number;
  /** of that, what stands on the bed, and what stands on the part itself */
  toBedMm3: number;
  toPartMm3: number;
  /** room under overhangs of cavities without a way out: what stands there stays */
  insideMm3: number;
  /** overhang in places that are to be kept bare, mm² */
  bareMm2: number;
  /** overhang so narrow between two sides that it is bridged, mm² */
  bridgedMm2: number;
  /** seen skin that support touches, above and below, mm² */
  scarMm2: number;
  /** x, y of the outermost cells of each row in which support stands on the bed */
  stood: number[];
  /** area of the sections, mm², in slabs of equal height from the bed up */
  areas: Float64Array;
}

export interface OverhangRules {
  /** leans out more than so far from upright, degrees */
  overhangDeg: number;
  /** less room than so much under an overhang needs nothing, mm */
  slackMm: number;
  /** spans up to so much are bridged, mm; 0 where nothing is */
  bridgeMm: number;
  /** boxes in which nothing may stand, in the mesh's own place */
  bare: readonly CleanBox[];
  /** slabs in which the sections are summed up */
  slabs: number;
  /** told of every cell of overhang that wants support, cell by cell and from below; not of what is bridged, bare or shut in */
  each?: (roof: Roof) => void;
}

/** A cell of overhang. */
export interface Roof {
  /** number of its cell among the columns */
  cell: number;
  x: number;
  y: number;
  z: number;
}

/** What a printer wants support under. Filament bridges short spans, resin sags. */
export const rulesOf = (
  { kind, overhangDeg, layerMm }: Pick<PrinterProfile, 'kind' | 'overhangDeg' | 'layerMm'>,
  bare: readonly CleanBox[],
  slabs: number,
): OverhangRules => ({
  overhangDeg,
  slackMm: 1.5 * layerMm,
  bridgeMm: kind === 'filament' ? figures.bridgeMm.value : 0,
  bare,
  slabs,
});

/** Cells along the longer side of a solid from above where figures are told, but no finer than a fifth of a millimetre. */
const fineCells = 640;
const finestMm = 0.2;

/** Distance of the lines along which support is measured, mm. */
export const fineCellOf = (bounds: { min: Vec3; max: Vec3 }): number => Math.max(finestMm, cellFor(bounds, fineCells));

/** Room under the overhangs of a mesh as it stands, z up, mm³: what support fills that can be taken off again. */
export function supportUnder(mesh: TriMesh, profile: PrinterProfile, context: RunContext): number {
  const bounds = boundsOf(mesh);
  const skin = posedSkin(mesh, []);
  context.progress(0, 'Looking under overhangs');
  const columns = columnsOf(mesh, bounds, fineCellOf(bounds), context);
  const reach = { floor: bounds.min[2], top: bounds.max[2] };
  return underneath(skin, riseOf(skin, [0, 0, 1]), columns, reach, rulesOf(profile, [], 1), (at) => at).supportMm3;
}

const within = (boxes: readonly CleanBox[], [x, y, z]: Vec3): boolean =>
  boxes.some(({ min, max }) => x >= min[0] && x <= max[0] && y >= min[1] && y <= max[1] && z >= min[2] && z <= max[2]);

/** Overhangs as columns see them: one entry a cell and overhang, cell by cell and from below. */
interface Roofs {
  count: number;
  cell: Int32Array;
  z: Float32Array;
  /** where what is under it ends, and the triangle there; -1 for the bed */
  floor: Float32Array;
  below: Int32Array;
  triangle: Int32Array;
  /** first of each cell */
  start: Uint32Array;
}

/** How much higher the next cell of one roof may lie, in cells: a roof that rises more carries itself. */
const roofStep = 1.5;

/** Roofs that span no more than `bridgeMm` between two sides that carry them, along x or y. */
function bridged(columns: Columns, roofs: Roofs, bridgeMm: number): Uint8Array {
  const { nx, ny, cellMm } = columns;
  const out = new Uint8Array(roofs.count);
  const most = Math.floor(bridgeMm / cellMm + 1e-6);
  if (most < 1) return out;
  const { cell, z, start } = roofs;
  // a hair that float32 can tell at this height
  const hair = Math.max(1e-3, 0.02 * cellMm);
  for (const [step, size, stride] of [
    [1, nx, 1],
    [nx, ny, nx],
  ]) {
    const next = new Int32Array(roofs.count).fill(-1);
    const first = new Uint8Array(roofs.count).fill(1);
    for (let r = 0; r < roofs.count; r++) {
      const at = stride === 1 ? cell[r] % nx : Math.floor(cell[r] / nx);
      if (at + 1 >= size) continue;
      const beside = cell[r] + step;
      for (let q = start[beside]; q < start[beside + 1]; q++)
        if (Math.abs(z[q] - z[r]) <= roofStep * cellMm && first[q]) {
          next[r] = q;
          first[q] = 0;
          break;
        }
    }
    for (let r = 0; r < roofs.count; r++) {
      if (!first[r]) continue;
      let length = 1;
      let last = r;
      for (; next[last] >= 0 && length <= most; last = next[last]) length++;
      if (length > most) continue;
      const from = stride === 1 ? cell[r] % nx : Math.floor(cell[r] / nx);
      const to = from + length - 1;
      if (from === 0 || to === size - 1) continue;
      if (!isFleshUnder(columns, cell[r] - step, z[r] - hair)) continue;
      if (!isFleshUnder(columns, cell[last] + step, z[last] - hair)) continue;
      for (let q = r; ; q = next[q]) {
        out[q] = 1;
        if (q === last) break;
      }
    }
  }
  return out;
}

/**
 * What stands under a solid as it lies: every overhang with the room beneath it, down to the bed or to the part, from
 * columns through the solid.
 *
 * @param columns of the mesh turned as it lies, its lowest point at height `floor`
 * @param rise of each triangle: the upright share of its normal, -1 looking straight down
 * @param back a place as it lies in the mesh's own; asked for boxes kept bare alone
 */
export function underneath(
  { seen, closedIn, areas }: PosedSkin,
  rise: Float32Array,
  columns: Columns,
  { floor, top }: { floor: number; top: number },
  rules: OverhangRules,
  back: (at: Vec3) => Vec3,
): Underneath {
  const { start, z, triangle, rises, nx, ny, cellMm } = columns;
  const limit = -Math.sin((rules.overhangDeg * Math.PI) / 180) - 1e-6;
  const out: Underneath = {
    overhangMm2: 0,
    supportMm3: 0,
    toBedMm3: 0,
    toPartMm3: 0,
    insideMm3: 0,
    bareMm2: 0,
    bridgedMm2: 0,
    scarMm2: 0,
    stood: [],
    areas: new Float64Array(rules.slabs),
  };
  const most = (z.length >> 1) + 1;
  const roofs: Roofs = {
    count: 0,
    cell: new Int32Array(most),
    z: new Float32Array(most),
    floor: new Float32Array(most),
    below: new Int32Array(most),
    triangle: new Int32Array(most),
    start: new Uint32Array(nx * ny + 1),
  };
  const slab = (top - floor) / rules.slabs || 1;
  const cellMm2 = cellMm * cellMm;
  const { areas: sums } = out;
  // how many more cells are all flesh in a slab than in the one below
  const passed = new Int32Array(sums.length + 1);
  for (let c = 0; c < nx * ny; c++) {
    roofs.start[c] = roofs.count;
    let depth = 0;
    let under = floor;
    let below = -1;
    let entered = floor;
    for (let k = start[c]; k < start[c + 1]; k++) {
      const t = triangle[k];
      if (!rises[t]) {
        if (depth++ > 0) continue;
        entered = z[k];
        if (rise[t] >= limit || z[k] - under < rules.slackMm) continue;
        const r = roofs.count++;
        if (r >= most) continue;
        roofs.cell[r] = c;
        roofs.z[r] = z[k];
        roofs.floor[r] = under;
        roofs.below[r] = below;
        roofs.triangle[r] = t;
      } else if (--depth === 0) {
        under = z[k];
        below = t;
        // the slabs that this stretch of flesh passes, the first and the last by their share
        const a = (entered - floor) / slab;
        const b = (z[k] - floor) / slab;
        const last = Math.min(sums.length - 1, Math.floor(b));
        const first = Math.max(0, Math.floor(a));
        if (first >= last) {
          if (first === last) sums[first] += cellMm2 * (Math.min(b, first + 1) - Math.max(a, first));
        } else {
          sums[first] += cellMm2 * (first + 1 - Math.max(a, first));
          sums[last] += cellMm2 * (Math.min(b, last + 1) - last);
          passed[first + 1]++;
          passed[last]--;
        }
      }
    }
  }
  for (let s = 0, whole = 0; s < sums.length; s++) sums[s] += cellMm2 * (whole += passed[s]);
  roofs.start[nx * ny] = roofs.count = Math.min(roofs.count, most);
  const leftmost = new Int32Array(ny).fill(nx);
  const rightmost = new Int32Array(ny).fill(-1);
  const stand = (x: number, y: number): void => {
    if (x < leftmost[y]) leftmost[y] = x;
    if (x > rightmost[y]) rightmost[y] = x;
  };
  const spans = rules.bridgeMm > 0 ? bridged(columns, roofs, rules.bridgeMm) : null;
  for (let r = 0; r < roofs.count; r++) {
    const t = roofs.triangle[r];
    const c = roofs.cell[r];
    const skin = cellMm2 / -rise[t];
    out.overhangMm2 += skin;
    const room = cellMm2 * (roofs.z[r] - roofs.floor[r]);
    if (closedIn[t]) {
      out.insideMm3 += room;
      continue;
    }
    if (spans?.[r]) {
      out.bridgedMm2 += skin;
      continue;
    }
    const x = columns.x0 + (c % nx) * cellMm;
    const y = columns.y0 + Math.floor(c / nx) * cellMm;
    if (rules.bare.length > 0 && within(rules.bare, back([x, y, roofs.z[r]]))) {
      out.bareMm2 += skin;
      continue;
    }
    out.supportMm3 += room;
    rules.each?.({ cell: c, x, y, z: roofs.z[r] });
    if (seen[t]) out.scarMm2 += skin;
    const under = roofs.below[r];
    if (under < 0) {
      out.toBedMm3 += room;
      stand(c % nx, Math.floor(c / nx));
    } else {
      out.toPartMm3 += room;
      if (seen[under]) out.scarMm2 += Math.min(cellMm2 / rise[under], areas[under] + cellMm2);
    }
  }
  for (let y = 0; y < ny; y++)
    if (rightmost[y] >= 0)
      for (const x of [leftmost[y], rightmost[y]]) out.stood.push(columns.x0 + x * cellMm, columns.y0 + y * cellMm);
  return out;
}
