import { twinsOf } from '../mesh/edges.ts';
import type { EdgeHits } from './EdgeHits.ts';
import { OpenInside } from './OpenInside.ts';
import { treeOf } from '../mesh/Bvh.ts';
import type { RunContext } from '../run/context.ts';
import { triangleNormal } from '../mesh/measures.ts';
import { MeshError } from '../run/MeshError.ts';
import { boundsOf, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';
import { WindingTree } from '../mesh/WindingTree.ts';

/**
 * A mesh on a regular grid: which grid points lie inside, and where grid edges go through the skin.
 *
 * Point (i, j, k) has the number i + nx (j + ny k) and lies at `origin + cell * (i, j, k)`; nx is a multiple of four.
 */
export interface ScannedBody {
  readonly cell: number;
  readonly origin: [number, number, number];
  readonly counts: [number, number, number];
  /** 1 where the winding number is above a half */
  readonly inside: Uint8Array;
  /** for each row of points along x, the first inside and the one after the last; 65535 and 0 where there is none */
  readonly spans: Uint16Array;
  /** for each axis, the crossings of the grid edges that run along it, in order of `edge` */
  readonly hits: [EdgeHits, EdgeHits, EdgeHits];
  /** winding number at any point, where the mesh is open; null where it is closed */
  readonly winding: WindingTree | null;
}

/** Most grid points of a wrap: a byte each, and about as much again for what grows with the skin. */
export const mostGridPoints = 4e8;

/** Grid points that a mesh of this size takes at a cell size, mm, with so much around it on every side. */
export function gridPoints(mesh: TriMesh, cell: number, around = 0): number {
  const { min, max } = boundsOf(mesh);
  return min.reduce((n, lo, k) => n * (Math.ceil((max[k] - lo + 2 * around) / cell) + 6), 1);
}

/**
 * Scan conversion of a welded mesh. Every triangle is met with the grid lines along each axis; an edge between two
 * triangles decides for both alike, so lines never slip through. In a closed mesh the crossings along a line add up to
 * the winding number, which costs next to nothing; in an open one it is asked of the tree (Barill et al. 2018) near the
 * open loops, where it may pass through a half without a skin, and carried on along uncrossed grid edges elsewhere.
 *
 * @throws MeshError `too-fine` where the grid would not fit in memory
 */
export function scanConvert(mesh: TriMesh, cell: number, context: RunContext): ScannedBody {
  if (gridPoints(mesh, cell) > mostGridPoints)
    throw new MeshError(
      'too-fine',
      'A grid this fine does not fit in memory.',
      'Ask for a coarser detail, or divide the model first.',
      'detail',
    );
  const { min, max } = boundsOf(mesh);
  const shift = [2.3217, 2.3701, 2.3433];
  const origin = min.map((x, k) => x - shift[k] * cell) as [number, number, number];
  const counts = min.map((x, k) => Math.ceil((max[k] - x) / cell) + 6) as [number, number, number];
  counts[0] = 4 * Math.ceil(counts[0] / 4);
  const stride = [1, counts[0], counts[0] * counts[1]];
  const hits = [0, 1, 2].map((axis) => {
    context.checkCancelled();
    context.progress(0.1 * axis, 'Meeting the skin with the grid');
    return hitsAlong(mesh, axis, origin, cell, counts, stride, context);
  }) as [EdgeHits, EdgeHits, EdgeHits];
  const inside = new Uint8Array(counts[0] * counts[1] * counts[2]);
  const twin = twinsOf(mesh);
  const closed = twin.every((g) => g >= 0);
  context.progress(0.4, 'Telling inside from outside');
  if (closed) {
    fillClosed(inside, hits[0], counts);
    return { cell, origin, counts, inside, spans: spansOf(inside, counts), hits, winding: null };
  }
  // a side is told at one half, and this is off by 0.03 at worst
  const winding = new WindingTree(treeOf(mesh), 1.3);
  new OpenInside(mesh, inside, hits, { origin, cell, counts }, winding).fill(context);
  return { cell, origin, counts, inside, spans: spansOf(inside, counts), hits, winding };
}

function hitsAlong(
  mesh: TriMesh,
  axis: number,
  origin: number[],
  cell: number,
  counts: number[],
  stride: number[],
  context: RunContext,
): EdgeHits {
  const { positions: p, triangles } = mesh;
  const u = (axis + 1) % 3;
  const v = (axis + 2) % 3;
  const n = triangleCount(mesh);
  let capacity = 1 << 16;
  let keys = new Float64Array(capacity);
  let triangle = new Uint32Array(capacity);
  let leaving = new Uint8Array(capacity);
  let used = 0;
  const inv = 1 / cell;
  const x = new Float64Array(3);
  const y = new Float64Array(3);
  const z = new Float64Array(3);
  const id = new Uint32Array(3);
  for (let t = 0; t < n; t++) {
    if ((t & 0xffff) === 0) context.checkCancelled();
    for (let c = 0; c < 3; c++) {
      id[c] = triangles[3 * t + c];
      x[c] = (p[3 * id[c] + u] - origin[u]) * inv;
      y[c] = (p[3 * id[c] + v] - origin[v]) * inv;
      z[c] = (p[3 * id[c] + axis] - origin[axis]) * inv;
    }
    const y0 = Math.ceil(Math.min(y[0], y[1], y[2]));
    const y1 = Math.floor(Math.max(y[0], y[1], y[2]));
    if (y0 > y1) continue;
    const x0 = Math.ceil(Math.min(x[0], x[1], x[2]));
    const x1 = Math.floor(Math.max(x[0], x[1], x[2]));
    if (x0 > x1) continue;
    const double = (x[1] - x[0]) * (y[2] - y[0]) - (y[1] - y[0]) * (x[2] - x[0]);
    const zLow = Math.min(z[0], z[1], z[2]);
    const zHigh = Math.max(z[0], z[1], z[2]);
    for (let row = y0; row <= y1; row++) {
      let from = x1;
      let to = x0;
      for (let c = 0; c < 3; c++) {
        const d = c === 2 ? 0 : c + 1;
        const low = y[c] < y[d] ? y[c] : y[d];
        const high = y[c] < y[d] ? y[d] : y[c];
        if (row < low - 1e-9 || row > high + 1e-9) continue;
        const at = y[c] === y[d] ? x[c] : x[c] + ((row - y[c]) / (y[d] - y[c])) * (x[d] - x[c]);
        if (at - 1 < from) from = Math.floor(at - 1);
        if (at + 1 > to) to = Math.ceil(at + 1);
        if (y[c] === y[d]) {
          from = Math.min(from, Math.floor(x[d]) - 1);
          to = Math.max(to, Math.ceil(x[d]) + 1);
        }
      }
      if (from < x0) from = x0;
      if (to > x1) to = x1;
      for (let column = from; column <= to; column++) {
        let left = 0;
        let s0 = 0;
        let s1 = 0;
        for (let c = 0; c < 3; c++) {
          const d = c === 2 ? 0 : c + 1;
          const forward = id[c] < id[d];
          const a = forward ? c : d;
          const b = forward ? d : c;
          const s = (x[b] - x[a]) * (row - y[a]) - (y[b] - y[a]) * (column - x[a]);
          if (s > 0 === forward) left++;
          if (c === 0) s0 = forward ? s : -s;
          else if (c === 1) s1 = forward ? s : -s;
        }
        if (left !== 0 && left !== 3) continue;
        let height = double === 0 ? zLow : (s1 * z[0] + (double - s0 - s1) * z[1] + s0 * z[2]) / double;
        if (!(height >= zLow)) height = zLow;
        else if (height > zHigh) height = zHigh;
        const step = Math.min(counts[axis] - 2, Math.max(0, Math.floor(height)));
        if (used === capacity) {
          capacity *= 2;
          keys = grown(keys, new Float64Array(capacity));
          triangle = grown(triangle, new Uint32Array(capacity));
          leaving = grown(leaving, new Uint8Array(capacity));
        }
        // the place along the edge is kept in the fraction of the key, a little short of the next edge
        keys[used] =
          column * stride[u] + row * stride[v] + step * stride[axis] + Math.min(0.9999, Math.max(0, height - step));
        triangle[used] = t;
        leaving[used++] = left === 3 ? 1 : 0;
      }
    }
  }
  const order = sortedOrder(keys, used);
  const edge = new Uint32Array(used);
  const along = new Float32Array(used);
  const owner = new Uint32Array(used);
  const out = new Uint8Array(used);
  for (let i = 0; i < used; i++) {
    const key = keys[order[i]];
    edge[i] = Math.floor(key);
    along[i] = key - edge[i];
    owner[i] = triangle[order[i]];
    out[i] = leaving[order[i]];
  }
  return { edge, along, triangle: owner, leaving: out };
}

function grown<A extends Float64Array | Uint32Array | Uint8Array>(from: A, to: A): A {
  to.set(from);
  return to;
}

/** Order of the first `n` keys by size: three passes of eleven bits over the whole part, then the fraction by insertion. */
function sortedOrder(keys: Float64Array, n: number): Uint32Array {
  let from = new Uint32Array(n);
  let to = new Uint32Array(n);
  for (let i = 0; i < n; i++) from[i] = i;
  for (let shift = 1; shift < 2 ** 33; shift *= 2048) {
    const at = new Uint32Array(2049);
    for (let i = 0; i < n; i++) at[(Math.floor(keys[i] / shift) % 2048) + 1]++;
    for (let i = 0; i < 2048; i++) at[i + 1] += at[i];
    for (let i = 0; i < n; i++) to[at[Math.floor(keys[from[i]] / shift) % 2048]++] = from[i];
    [from, to] = [to, from];
  }
  for (let i = 1; i < n; i++) {
    const x = from[i];
    let j = i - 1;
    while (j >= 0 && keys[from[j]] > keys[x]) {
      from[j + 1] = from[j];
      j--;
    }
    from[j + 1] = x;
  }
  return from;
}

/** Adds up crossings along x: the winding number of a closed mesh, exactly. */
function fillClosed(inside: Uint8Array, { edge, leaving }: EdgeHits, counts: number[]): void {
  const nx = counts[0];
  for (let i = 0; i < edge.length;) {
    const line = Math.floor(edge[i] / nx);
    const end = (line + 1) * nx;
    let winding = 0;
    while (i < edge.length && edge[i] < end) {
      winding += leaving[i] ? -1 : 1;
      const next = i + 1 < edge.length && edge[i + 1] < end ? edge[i + 1] + 1 : end;
      if (winding > 0) inside.fill(1, edge[i] + 1, next);
      i++;
    }
  }
}

function spansOf(inside: Uint8Array, counts: number[]): Uint16Array {
  const nx = counts[0];
  const spans = new Uint16Array((2 * inside.length) / nx);
  for (let row = 0; row < spans.length / 2; row++) {
    const first = inside.indexOf(1, nx * row);
    if (first < 0 || first >= nx * (row + 1)) {
      // rows up to the next point inside have none
      const until = first < 0 ? spans.length / 2 : Math.floor(first / nx);
      for (; row < until; row++) spans[2 * row] = 0xffff;
      row--;
      continue;
    }
    spans[2 * row] = first - nx * row;
    spans[2 * row + 1] = inside.lastIndexOf(1, nx * (row + 1) - 1) + 1 - nx * row;
  }
  return spans;
}

/** Unit normals of all triangles, three floats each. */
export function normalsOf(mesh: TriMesh): Float32Array {
  const out = new Float32Array(mesh.triangles.length);
  for (let t = 0; t < triangleCount(mesh); t++) out.set(triangleNormal(mesh, t), 3 * t);
  return out;
}
