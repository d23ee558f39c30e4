import { Bvh } from './Bvh.ts';
import { quietContext, type RunContext } from './context.ts';
import { triangleArea } from './measures.ts';
import { trianglesMeet } from './triangleMeet.ts';
import { triangleCount, type TriMesh } from './TriMesh.ts';

/**
 * Pairs of triangles of one mesh that cross, touch or lie on one another beyond the vertices and edges they share.
 * Triangles without area are passed over: they are counted as degenerate instead.
 *
 * @param most stop listing (not counting) after this many pairs
 * @returns the exact count, and up to `most` pairs as s, t, s, t ...
 */
export function selfIntersections(
  mesh: TriMesh,
  tree: Bvh = new Bvh(mesh),
  most = 100_000,
  context: RunContext = quietContext,
): { count: number; pairs: number[] } {
  const { positions: p, triangles } = mesh;
  const n = triangleCount(mesh);
  const flat = new Uint8Array(n);
  const box = new Float32Array(6 * n);
  for (let t = 0; t < n; t++) {
    if (triangleArea(p, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]) === 0) flat[t] = 1;
    for (let k = 0; k < 3; k++) {
      const x = p[3 * triangles[3 * t] + k];
      const y = p[3 * triangles[3 * t + 1] + k];
      const z = p[3 * triangles[3 * t + 2] + k];
      box[6 * t + k] = Math.min(x, y, z);
      box[6 * t + 3 + k] = Math.max(x, y, z);
    }
  }
  const pairs: number[] = [];
  let count = 0;
  const test = (s: number, t: number): void => {
    if (flat[s] || flat[t]) return;
    const i = 6 * s;
    const j = 6 * t;
    if (
      box[i] > box[j + 3] ||
      box[j] > box[i + 3] ||
      box[i + 1] > box[j + 4] ||
      box[j + 1] > box[i + 4] ||
      box[i + 2] > box[j + 5] ||
      box[j + 2] > box[i + 5]
    )
      return;
    if (trianglesMeet(mesh, s < t ? s : t, s < t ? t : s)) {
      count++;
      if (pairs.length < 2 * most) pairs.push(s < t ? s : t, s < t ? t : s);
    }
  };
  const overlap = (a: number, b: number): boolean => {
    const o = 6 * a;
    const q = 6 * b;
    const x = tree.box;
    return (
      x[o] <= x[q + 3] &&
      x[q] <= x[o + 3] &&
      x[o + 1] <= x[q + 4] &&
      x[q + 1] <= x[o + 4] &&
      x[o + 2] <= x[q + 5] &&
      x[q + 2] <= x[o + 5]
    );
  };
  if (tree.nodeCount === 0) return { count, pairs };
  const stack: number[] = [0, 0];
  let steps = 0;
  while (stack.length > 0) {
    if ((++steps & 0x3fff) === 0) context.checkCancelled();
    const b = stack.pop()!;
    const a = stack.pop()!;
    const na = tree.count[a];
    if (a === b) {
      if (na > 0) {
        const from = tree.offset[a];
        for (let i = from; i < from + na; i++)
          for (let j = i + 1; j < from + na; j++) test(tree.order[i], tree.order[j]);
      } else {
        const l = a + 1;
        const r = tree.offset[a];
        stack.push(l, l, r, r);
        if (overlap(l, r)) stack.push(l, r);
      }
      continue;
    }
    const nb = tree.count[b];
    if (na > 0 && nb > 0) {
      for (let i = tree.offset[a]; i < tree.offset[a] + na; i++)
        for (let j = tree.offset[b]; j < tree.offset[b] + nb; j++) test(tree.order[i], tree.order[j]);
    } else if (nb > 0 || (na === 0 && reach(tree, a) >= reach(tree, b))) {
      const l = a + 1;
      const r = tree.offset[a];
      if (overlap(l, b)) stack.push(l, b);
      if (overlap(r, b)) stack.push(r, b);
    } else {
      const l = b + 1;
      const r = tree.offset[b];
      if (overlap(a, l)) stack.push(a, l);
      if (overlap(a, r)) stack.push(a, r);
    }
  }
  return { count, pairs };
}

const reach = (tree: Bvh, node: number): number => {
  const o = 6 * node;
  return tree.box[o + 3] - tree.box[o] + tree.box[o + 4] - tree.box[o + 1] + tree.box[o + 5] - tree.box[o + 2];
};
