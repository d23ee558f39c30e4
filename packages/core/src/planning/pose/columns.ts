import type { RunContext } from '../../run/context.ts';
import { triangleCount, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';

/**
 * A mesh seen from above as columns of a square grid: for each cell, every crossing of the upright line through its
 * middle with the skin, from below (layered depths: Shade, Gortler, He and Szeliski 1998).
 *
 * Packed: cell c = x + y * nx has the crossings from `start[c]` to `start[c + 1]`; each has its height `z` and the
 * `triangle` that is crossed. A closed skin is crossed at its shared edges once and never twice: corners are laid on a
 * grid of 1/256 of a cell, and edges count for one of their sides.
 */
export interface Columns {
  nx: number;
  ny: number;
  cellMm: number;
  /** middle of the first cell, mm */
  x0: number;
  y0: number;
  start: Uint32Array;
  z: Float32Array;
  triangle: Int32Array;
  /** of each triangle: 1 where a line from below comes out by it, as its corners lie on the grid */
  rises: Uint8Array;
}

/** Steps of a corner's place, a cell. */
const stepBits = 8;
const steps = 1 << stepBits;
/** Most cells along one side: products of places stay exact in doubles. */
export const mostCells = 2048;

/** Side of a cell so that so many lie along the longer side of a mesh from above, mm. */
export const cellFor = ({ min, max }: { min: Vec3; max: Vec3 }, cells: number): number =>
  Math.max(max[0] - min[0], max[1] - min[1], 1e-3) / Math.min(cells, mostCells);

/** Every crossing of upright lines with a mesh. @param cellMm distance of the lines */
export function columnsOf(
  mesh: TriMesh,
  { min, max }: { min: Vec3; max: Vec3 },
  cellMm: number,
  context: RunContext,
): Columns {
  const nx = Math.max(1, Math.ceil((max[0] - min[0]) / cellMm));
  const ny = Math.max(1, Math.ceil((max[1] - min[1]) / cellMm));
  // as much beyond the mesh on either side
  const x0 = (min[0] + max[0] - (nx - 1) * cellMm) / 2;
  const y0 = (min[1] + max[1] - (ny - 1) * cellMm) / 2;
  const start = new Uint32Array(nx * ny + 1);
  const rises = new Uint8Array(triangleCount(mesh));
  const { positions: p } = mesh;
  const px = new Int32Array(p.length / 3);
  const py = new Int32Array(p.length / 3);
  for (let v = 0; v < px.length; v++) {
    px[v] = Math.round(((p[3 * v] - x0) / cellMm) * steps);
    py[v] = Math.round(((p[3 * v + 1] - y0) / cellMm) * steps);
  }
  const { cells, heights, through, found } = crossings(mesh, px, py, nx, ny, rises, context);
  for (let k = 0; k < found; k++) start[cells[k] + 1]++;
  for (let c = 0; c < nx * ny; c++) start[c + 1] += start[c];
  const z = new Float32Array(found);
  const triangle = new Int32Array(found);
  const place = start.slice(0, nx * ny);
  for (let n = 0; n < found; n++) {
    const cell = cells[n];
    const height = heights[n];
    // few to a column: each goes to its place at once
    let k = place[cell]++;
    for (; k > start[cell] && z[k - 1] > height; k--) {
      z[k] = z[k - 1];
      triangle[k] = triangle[k - 1];
    }
    z[k] = height;
    triangle[k] = through[n];
  }
  return { nx, ny, cellMm, x0, y0, start, z, triangle, rises };
}

/**
 * Crossings in the order of the triangles. A function of its own: the engine keeps what its loop needs at hand.
 *
 * @param px of each corner its place in steps of a cell, `py` likewise
 * @param rises to be set
 */
function crossings(
  { positions: p, triangles: t }: TriMesh,
  px: Int32Array,
  py: Int32Array,
  nx: number,
  ny: number,
  rises: Uint8Array,
  context: RunContext,
): { cells: Uint32Array; heights: Float32Array; through: Int32Array; found: number } {
  const count = rises.length;
  // how many there are is known afterwards
  let most = Math.max(1024, 4 * nx * ny);
  let cells = new Uint32Array(most);
  let heights = new Float32Array(most);
  let through = new Int32Array(most);
  let found = 0;
  for (let i = 0; i < count; i++) {
    if ((i & 8191) === 0) context.checkCancelled();
    const a = t[3 * i];
    let b = t[3 * i + 1];
    let c = t[3 * i + 2];
    let area = (px[b] - px[a]) * (py[c] - py[a]) - (py[b] - py[a]) * (px[c] - px[a]);
    if (area === 0) continue;
    if (area < 0) {
      [b, c] = [c, b];
      area = -area;
    } else rises[i] = 1;
    const ax = px[a];
    const ay = py[a];
    const bx = px[b];
    const by = py[b];
    const cx = px[c];
    const cy = py[c];
    const x1 = Math.max(0, (Math.min(ax, bx, cx) + steps - 1) >> stepBits);
    const x2 = Math.min(nx - 1, Math.max(ax, bx, cx) >> stepBits);
    if (x1 > x2) continue;
    const y1 = Math.max(0, (Math.min(ay, by, cy) + steps - 1) >> stepBits);
    const y2 = Math.min(ny - 1, Math.max(ay, by, cy) >> stepBits);
    if (y1 > y2) continue;
    // a middle on an edge belongs to it where the edge goes down, or to the left
    const la = cy < by || (cy === by && cx < bx) ? 0 : 1;
    const lb = ay < cy || (ay === cy && ax < cx) ? 0 : 1;
    const lc = by < ay || (by === ay && bx < ax) ? 0 : 1;
    const za = p[3 * a + 2];
    const zb = p[3 * b + 2];
    const zc = p[3 * c + 2];
    const qx = x1 * steps;
    const nextA = (by - cy) * steps;
    const nextB = (cy - ay) * steps;
    for (let y = y1; y <= y2; y++) {
      const qy = y * steps;
      // of the cell to the left of the first
      let wa = (cx - bx) * (qy - by) - (cy - by) * (qx - bx) - nextA;
      let wb = (ax - cx) * (qy - cy) - (ay - cy) * (qx - cx) - nextB;
      for (let x = x1; x <= x2; x++) {
        wa += nextA;
        wb += nextB;
        if (wa < la || wb < lb) continue;
        const wc = area - wa - wb;
        if (wc < lc) continue;
        if (found === most) {
          most *= 2;
          cells = grown(cells, new Uint32Array(most));
          heights = grown(heights, new Float32Array(most));
          through = grown(through, new Int32Array(most));
        }
        cells[found] = x + y * nx;
        heights[found] = (wa * za + wb * zb + wc * zc) / area;
        through[found++] = i;
      }
    }
  }
  return { cells, heights, through, found };
}

/** Does a cell's line run through flesh right under a height? */
export function isFleshUnder({ start, z, triangle, rises }: Columns, cell: number, height: number): boolean {
  let depth = 0;
  for (let k = start[cell]; k < start[cell + 1] && z[k] < height; k++) depth += rises[triangle[k]] ? -1 : 1;
  return depth > 0;
}

function grown<A extends Uint32Array | Int32Array | Float32Array>(from: A, to: A): A {
  to.set(from);
  return to;
}
