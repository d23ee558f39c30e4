import { Bvh } from './Bvh.ts';
import { quietContext, type RunContext } from './context.ts';
import { trianglesMeet } from './triangleMeet.ts';
import type { TriMesh } from './TriMesh.ts';

/**
 * Pairs of triangles of one mesh that cross, touch or lie on one another beyond the vertices and edges they share.
 * Triangles without area are passed over: they are counted as degenerate instead.
 *
 * @param most stop listing (not counting) after this many pairs
 * @param suspects flags of triangles of which one at least must be in a pair; all, if left out
 * @returns the exact count, and up to `most` pairs as s, t, s, t ...
 */
export function selfIntersections(
  mesh: TriMesh,
  tree: Bvh = new Bvh(mesh),
  most = 100_000,
  context: RunContext = quietContext,
  suspects?: Uint8Array,
): { count: number; pairs: number[] } {
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
  const pairs: number[] = [];
  let count = 0;
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
  const test = (i: number, j: number): void => {
    if (!boxesMeet(box, 6 * i, 6 * j)) return;
    if (clear(i, j) || clear(j, i) || flat[i] || flat[j]) return;
    const s = order[i] < order[j] ? order[i] : order[j];
    const t = order[i] < order[j] ? order[j] : order[i];
    if (trianglesMeet(mesh, s, t)) {
      count++;
      if (pairs.length < 2 * most) pairs.push(s, t);
    }
  };
  if (suspects) {
    for (let i = 0; i < n; i++) {
      if (!suspects[order[i]]) continue;
      if ((i & 0xff) === 0) context.checkCancelled();
      const o = 6 * i;
      tree.eachLeafInBox(box[o], box[o + 1], box[o + 2], box[o + 3], box[o + 4], box[o + 5], (from, to) => {
        // a pair of two suspects is met twice: the later one counts
        for (let j = from; j < to; j++) if (j !== i && (j < i || !suspects[order[j]])) test(i, j);
      });
    }
    return { count, pairs };
  }
  if (tree.nodeCount > 0) pairsOfNodes(tree, test, context);
  return { count, pairs };
}

/** Calls `test` with every two places in the tree's order whose leaves' boxes meet: the tree against itself. */
function pairsOfNodes(tree: Bvh, test: (i: number, j: number) => void, context: RunContext): void {
  const { box: x, count, offset } = tree;
  // a descent leaves at most three pairs a level behind
  const stack = new Uint32Array(4096);
  let top = 2;
  let steps = 0;
  while (top > 0) {
    if ((++steps & 0x3fff) === 0) context.checkCancelled();
    const b = stack[--top];
    const a = stack[--top];
    const na = count[a];
    const nb = count[b];
    if (a === b) {
      if (na > 0) {
        const from = offset[a];
        for (let i = from; i < from + na; i++) for (let j = i + 1; j < from + na; j++) test(i, j);
      } else {
        const l = a + 1;
        const r = offset[a];
        stack[top++] = l;
        stack[top++] = l;
        stack[top++] = r;
        stack[top++] = r;
        if (boxesMeet(x, 6 * l, 6 * r)) {
          stack[top++] = l;
          stack[top++] = r;
        }
      }
      continue;
    }
    if (na > 0 && nb > 0) {
      const i1 = offset[a] + na;
      const j1 = offset[b] + nb;
      for (let i = offset[a]; i < i1; i++) for (let j = offset[b]; j < j1; j++) test(i, j);
    } else if (nb > 0 || (na === 0 && reach(tree, a) >= reach(tree, b))) {
      if (boxesMeet(x, 6 * a + 6, 6 * b)) {
        stack[top++] = a + 1;
        stack[top++] = b;
      }
      if (boxesMeet(x, 6 * offset[a], 6 * b)) {
        stack[top++] = offset[a];
        stack[top++] = b;
      }
    } else {
      if (boxesMeet(x, 6 * a, 6 * b + 6)) {
        stack[top++] = a;
        stack[top++] = b + 1;
      }
      if (boxesMeet(x, 6 * a, 6 * offset[b])) {
        stack[top++] = a;
        stack[top++] = offset[b];
      }
    }
  }
}

const reach = (tree: Bvh, node: number): number => {
  const o = 6 * node;
  return tree.box[o + 3] - tree.box[o] + tree.box[o + 4] - tree.box[o + 1] + tree.box[o + 5] - tree.box[o + 2];
};

/** Do two boxes of six floats each, at o and q, share a point? */
const boxesMeet = (x: Float32Array, o: number, q: number): boolean =>
  x[o] <= x[q + 3] &&
  x[q] <= x[o + 3] &&
  x[o + 1] <= x[q + 4] &&
  x[q + 1] <= x[o + 4] &&
  x[o + 2] <= x[q + 5] &&
  x[q + 2] <= x[o + 5];
