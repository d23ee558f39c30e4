import { treeOf, type Bvh } from './Bvh.ts';
import { quietContext, type RunContext } from '../run/context.ts';
import { trianglesMeet } from './triangleMeet.ts';
import { findDuplicates } from './duplicates.ts';
import { mostCounted } from './crossingCount.ts';
import { MeshError } from '../run/MeshError.ts';
import { countUp, subMesh, type TriMesh } from './TriMesh.ts';

export interface Crossings {
  /** exact below `mostCounted` */
  count: number;
  /** up to `mostPairs` of them as s, t, s, t ... with s < t */
  pairs: number[];
}

/** Pairs beyond this many are counted, not listed. */
const mostPairs = 400_000;

/**
 * Pairs of triangles of one mesh that cross, touch or lie on one another beyond the vertices and edges they share.
 * Triangles without area are passed over: they are counted as degenerate instead.
 *
 * @param suspects flags of triangles of which one at least must be in a pair; all, if left out
 */
export function selfIntersections(mesh: TriMesh, context: RunContext = quietContext, suspects?: Uint8Array): Crossings {
  const duplicates = findDuplicates(mesh);
  if (duplicates.count > manyCopies) {
    // copies of one triangle lie in each other's boxes, all with all: what the first of them crosses, the others do too
    const single = countUp(duplicates.flags.length).filter((t) => duplicates.flags[t] === 0);
    const { count, pairs } = amongTriangles(subMesh(mesh, single), context, suspects && single.map((t) => suspects[t]));
    return { count, pairs: pairs.map((t) => single[t]) };
  }
  return amongTriangles(mesh, context, suspects);
}

/** More copies of triangles than this are left out before the search. */
const manyCopies = 1000;

/** Triangles that lie on one another in such numbers that more pairs than this would have to be looked at are refused. */
const mostTests = 200_000_000;

function amongTriangles(mesh: TriMesh, context: RunContext, suspects?: ArrayLike<number>): Crossings {
  context.checkCancelled();
  const tree = treeOf(mesh);
  context.checkCancelled();
  const { positions: p, triangles } = mesh;
  const { order } = tree;
  const n = order.length;
  // corners, boxes and vertex numbers in the tree's order, so that leaves read memory one after another
  const corner = new Float32Array(9 * n);
  const box = new Float32Array(6 * n);
  const vertex = new Uint32Array(3 * n);
  const flat = new Uint8Array(n);
  const normal = new Float64Array(4 * n);
  for (let i = 0; i < n; i++) {
    const t = order[i];
    for (let c = 0; c < 3; c++) {
      const v = triangles[3 * t + c];
      vertex[3 * i + c] = v;
      for (let k = 0; k < 3; k++) corner[9 * i + 3 * c + k] = p[3 * v + k];
    }
    for (let k = 0; k < 3; k++) {
      const x = corner[9 * i + k];
      const y = corner[9 * i + 3 + k];
      const z = corner[9 * i + 6 + k];
      box[6 * i + k] = x < y ? (x < z ? x : z) : y < z ? y : z;
      box[6 * i + 3 + k] = x > y ? (x > z ? x : z) : y > z ? y : z;
    }
    const o = 9 * i;
    const ux = corner[o + 3] - corner[o];
    const uy = corner[o + 4] - corner[o + 1];
    const uz = corner[o + 5] - corner[o + 2];
    const vx = corner[o + 6] - corner[o];
    const vy = corner[o + 7] - corner[o + 1];
    const vz = corner[o + 8] - corner[o + 2];
    const size = Math.abs(ux) + Math.abs(uy) + Math.abs(uz) + Math.abs(vx) + Math.abs(vy) + Math.abs(vz);
    normal[4 * i] = uy * vz - uz * vy;
    normal[4 * i + 1] = uz * vx - ux * vz;
    normal[4 * i + 2] = ux * vy - uy * vx;
    // times the sum of a point's offsets this is far above Shewchuk's bound for a determinant of these entries
    normal[4 * i + 3] = 4e-15 * size * size;
    if (normal[4 * i] === 0 && normal[4 * i + 1] === 0 && normal[4 * i + 2] === 0) flat[i] = 1;
  }
  context.checkCancelled();
  const pairs: number[] = [];
  let count = 0;
  let tests = 0;
  /** Do all corners of i that j has not lie, beyond rounding, on one side of j's plane? */
  const clear = (i: number, j: number): boolean => {
    const o = 9 * j;
    const ax = corner[o];
    const ay = corner[o + 1];
    const az = corner[o + 2];
    const nx = normal[4 * j];
    const ny = normal[4 * j + 1];
    const nz = normal[4 * j + 2];
    const sizeSq = normal[4 * j + 3];
    const j0 = vertex[3 * j];
    const j1 = vertex[3 * j + 1];
    const j2 = vertex[3 * j + 2];
    let sign = 0;
    for (let c = 0; c < 3; c++) {
      const v = vertex[3 * i + c];
      if (v === j0 || v === j1 || v === j2) continue;
      const q = 9 * i + 3 * c;
      const dx = corner[q] - ax;
      const dy = corner[q + 1] - ay;
      const dz = corner[q + 2] - az;
      const d = nx * dx + ny * dy + nz * dz;
      const doubt = sizeSq * (Math.abs(dx) + Math.abs(dy) + Math.abs(dz));
      if (d > doubt) {
        if (sign < 0) return false;
        sign = 1;
      } else if (d < -doubt) {
        if (sign > 0) return false;
        sign = -1;
      } else return false;
    }
    return sign !== 0;
  };
  /**
   * Is there an edge of i through which a plane, square to i, has all corners of j that i has not strictly beyond it?
   * Corners on the plane by rounding alone do no harm: it could be tilted off them by less than the margin asked.
   */
  const apart = (i: number, j: number): boolean => {
    const o = 9 * i;
    const nx = normal[4 * i];
    const ny = normal[4 * i + 1];
    const nz = normal[4 * i + 2];
    const i0 = vertex[3 * i];
    const i1 = vertex[3 * i + 1];
    const i2 = vertex[3 * i + 2];
    let shared = 0;
    for (let c = 0; c < 3; c++) {
      const v = vertex[3 * j + c];
      shared |= v === i0 ? 1 : v === i1 ? 2 : v === i2 ? 4 : 0;
    }
    for (let e = 0; e < 3; e++) {
      const ends = e === 0 ? 3 : e === 1 ? 6 : 5;
      if ((shared & ends) !== shared) continue;
      const a = o + 3 * e;
      const b = e === 2 ? o : a + 3;
      const c = e === 0 ? o + 6 : e === 1 ? o : o + 3;
      const ax = corner[a];
      const ay = corner[a + 1];
      const az = corner[a + 2];
      const ux = corner[b] - ax;
      const uy = corner[b + 1] - ay;
      const uz = corner[b + 2] - az;
      const mx = uy * nz - uz * ny;
      const my = uz * nx - ux * nz;
      const mz = ux * ny - uy * nx;
      const doubt = 1e-13 * (Math.abs(mx) + Math.abs(my) + Math.abs(mz));
      let x = corner[c] - ax;
      let y = corner[c + 1] - ay;
      let z = corner[c + 2] - az;
      if (!(mx * x + my * y + mz * z < -doubt * (Math.abs(x) + Math.abs(y) + Math.abs(z)))) continue;
      let beyond = true;
      for (let q = 0; q < 3 && beyond; q++) {
        const v = vertex[3 * j + q];
        if (v === i0 || v === i1 || v === i2) continue;
        x = corner[9 * j + 3 * q] - ax;
        y = corner[9 * j + 3 * q + 1] - ay;
        z = corner[9 * j + 3 * q + 2] - az;
        beyond = mx * x + my * y + mz * z > doubt * (Math.abs(x) + Math.abs(y) + Math.abs(z));
      }
      if (beyond) return true;
    }
    return false;
  };
  const test = (i: number, j: number): void => {
    if (count >= mostCounted) return;
    if (++tests > mostTests)
      throw new MeshError(
        'cannot',
        `So many of the ${n} triangles lie on or through one another that they cannot be told apart.`,
        'Was the same model written over and over? Export it once.',
      );
    if (clear(i, j) || clear(j, i) || apart(i, j) || apart(j, i) || flat[i] || flat[j]) return;
    const s = order[i] < order[j] ? order[i] : order[j];
    const t = order[i] < order[j] ? order[j] : order[i];
    if (trianglesMeet(mesh, s, t)) {
      count++;
      if (pairs.length < 2 * mostPairs) pairs.push(s, t);
    }
  };
  if (suspects) {
    for (let i = 0; i < n && count < mostCounted; i++) {
      if (!suspects[order[i]]) continue;
      if ((i & 0xff) === 0) context.checkCancelled();
      const o = 6 * i;
      tree.eachLeafInBox(box[o], box[o + 1], box[o + 2], box[o + 3], box[o + 4], box[o + 5], (from, to) => {
        // a pair of two suspects is met twice: the later one counts
        for (let j = from; j < to; j++)
          if (j !== i && (j < i || !suspects[order[j]]) && meet(box, o, box, 6 * j)) test(i, j);
      });
    }
    return { count, pairs };
  }
  if (tree.nodeCount > 0) pairsOfNodes(tree, box, test, () => count >= mostCounted, context);
  return { count, pairs };
}

/** Nodes of no more triangles than this are taken whole: fewer pairs of nodes to walk. */
const handful = 16;

/**
 * Calls `test` with places in the tree's order whose triangles may meet: the tree against itself.
 *
 * @param own boxes of the triangles, in that order
 * @param enough is the search over before its end?
 */
function pairsOfNodes(
  tree: Bvh,
  own: Float32Array,
  test: (i: number, j: number) => void,
  enough: () => boolean,
  context: RunContext,
): void {
  const { box: x, count, offset, nodeCount } = tree;
  // the places in the order that each node speaks for
  const begin = new Uint32Array(nodeCount);
  const end = new Uint32Array(nodeCount);
  for (let node = nodeCount - 1; node >= 0; node--) {
    begin[node] = count[node] > 0 ? offset[node] : begin[node + 1];
    end[node] = count[node] > 0 ? offset[node] + count[node] : end[offset[node]];
  }
  const fromA = new Uint32Array(handful);
  const both = new Float32Array(6);
  // a descent leaves at most three pairs a level behind
  const stack = new Uint32Array(4096);
  let top = 2;
  let steps = 0;
  while (top > 0) {
    if ((++steps & 0xff) === 0) {
      context.checkCancelled();
      if (enough()) return;
    }
    const b = stack[--top];
    const a = stack[--top];
    const na = end[a] - begin[a];
    const nb = end[b] - begin[b];
    const wholeA = na <= handful || count[a] > 0;
    if (a === b) {
      if (wholeA) {
        const to = end[a];
        for (let i = begin[a]; i < to; i++)
          for (let j = i + 1; j < to; j++) if (meet(own, 6 * i, own, 6 * j)) test(i, j);
      } else {
        const l = a + 1;
        const r = offset[a];
        stack[top++] = l;
        stack[top++] = l;
        stack[top++] = r;
        stack[top++] = r;
        if (meet(x, 6 * l, x, 6 * r)) {
          stack[top++] = l;
          stack[top++] = r;
        }
      }
      continue;
    }
    const wholeB = nb <= handful || count[b] > 0;
    if (wholeA && wholeB) {
      for (let k = 0; k < 3; k++) {
        both[k] = Math.max(x[6 * a + k], x[6 * b + k]);
        both[3 + k] = Math.min(x[6 * a + 3 + k], x[6 * b + 3 + k]);
      }
      let used = 0;
      for (let i = begin[a]; i < end[a]; i++) if (meet(own, 6 * i, both, 0)) fromA[used++] = i;
      if (used > 0)
        for (let j = begin[b]; j < end[b]; j++)
          if (meet(own, 6 * j, both, 0))
            for (let i = 0; i < used; i++) if (meet(own, 6 * fromA[i], own, 6 * j)) test(fromA[i], j);
    } else if (wholeB || (!wholeA && na >= nb)) {
      if (meet(x, 6 * a + 6, x, 6 * b)) {
        stack[top++] = a + 1;
        stack[top++] = b;
      }
      if (meet(x, 6 * offset[a], x, 6 * b)) {
        stack[top++] = offset[a];
        stack[top++] = b;
      }
    } else {
      if (meet(x, 6 * a, x, 6 * b + 6)) {
        stack[top++] = a;
        stack[top++] = b + 1;
      }
      if (meet(x, 6 * a, x, 6 * offset[b])) {
        stack[top++] = a;
        stack[top++] = offset[b];
      }
    }
  }
}

/** Do two boxes of six floats each, at o of x and at q of y, share a point? */
const meet = (x: Float32Array, o: number, y: Float32Array, q: number): boolean =>
  x[o] <= y[q + 3] &&
  y[q] <= x[o + 3] &&
  x[o + 1] <= y[q + 4] &&
  y[q + 1] <= x[o + 4] &&
  x[o + 2] <= y[q + 5] &&
  y[q + 2] <= x[o + 5];
