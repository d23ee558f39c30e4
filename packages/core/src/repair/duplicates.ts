import { edgesOf } from '../mesh/edges.ts';
import { findDuplicates } from '../mesh/duplicates.ts';
import { subMesh, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';
import { UnionFind } from '../mesh/UnionFind.ts';

/**
 * Leaves one of each set of triangles over the same three vertices, facing as most of the set do. Sets that face both
 * ways equally bound nothing, such as the wall between two boxes side by side, and go altogether; but one stays where
 * the skin would come open without it, and so does a skin that was stored with both its sides and that nothing touches.
 *
 * @returns the mesh and how many triangles went
 */
export function settleDuplicates(mesh: TriMesh): { mesh: TriMesh; dropped: number } {
  const { count, flags, twinOf } = findDuplicates(mesh);
  if (count === 0) return { mesh, dropped: 0 };
  const n = triangleCount(mesh);
  const { triangles } = mesh;
  const same = (a: number, b: number): boolean => {
    const k = [0, 1, 2].find((q) => triangles[3 * b + q] === triangles[3 * a])!;
    return triangles[3 * b + ((k + 1) % 3)] === triangles[3 * a + 1];
  };
  const net = new Int32Array(n);
  const firsts = new Set<number>();
  for (let t = 0; t < n; t++)
    if (flags[t]) {
      const first = twinOf[t];
      if (!firsts.has(first)) net[first] = 1;
      firsts.add(first);
      net[first] += same(first, t) ? 1 : -1;
    }
  const gone = flags.slice();
  for (const first of firsts) if (net[first] === 0) gone[first] = 1;
  // the copy that stays must face as most do
  const out = triangles.slice();
  for (const first of firsts)
    if (net[first] < 0) [out[3 * first + 1], out[3 * first + 2]] = [out[3 * first + 2], out[3 * first + 1]];
  const edges = edgesOf(mesh);
  const edgeOf = new Int32Array(triangles.length).fill(-1);
  const left = new Int32Array(edges.count);
  for (let e = 0; e < edges.count; e++)
    for (let i = edges.start[e]; i < edges.start[e + 1]; i++) {
      edgeOf[edges.order[i]] = e;
      if (!gone[(edges.order[i] / 3) | 0]) left[e]++;
    }
  for (const first of firsts) {
    if (net[first] !== 0) continue;
    const own = [0, 1, 2].map((k) => edgeOf[3 * first + k]);
    if (!own.some((e) => e >= 0 && left[e] === 1)) continue;
    gone[first] = 0;
    for (const e of own) if (e >= 0) left[e]++;
  }
  for (const first of skinsOfBothSides(firsts, net, left, edgeOf)) gone[first] = 0;
  const keep: number[] = [];
  for (let t = 0; t < n; t++) if (!gone[t]) keep.push(t);
  return { mesh: subMesh({ positions: mesh.positions, triangles: out }, keep), dropped: n - keep.length };
}

/** Triangles facing both ways equally that hang together in skins of their own, no other triangle left at their edges. */
function skinsOfBothSides(firsts: Set<number>, net: Int32Array, left: Int32Array, edgeOf: Int32Array): number[] {
  const list = [...firsts].filter((t) => net[t] === 0);
  const sets = new UnionFind(list.length);
  const at = new Map<number, number[]>();
  list.forEach((t, i) => {
    for (let k = 0; k < 3; k++) {
      const e = edgeOf[3 * t + k];
      const others = at.get(e);
      if (others) {
        sets.union(others[0], i);
        others.push(i);
      } else at.set(e, [i]);
    }
  });
  const touched = new Set<number>();
  for (const [e, members] of at) if (e < 0 || left[e] > 0 || members.length > 2) touched.add(sets.find(members[0]));
  return list.filter((_, i) => !touched.has(sets.find(i)));
}
