import { OPEN, originOf, targetOf, twinsOf } from '../mesh/edges.ts';
import { GrowableIndices } from '../formats/Growable.ts';
import { nextHalfEdge, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';

/**
 * Seams whose two sides were divided differently: an open edge along which the other side runs in several shorter ones
 * is divided at their corners, so that both sides meet. One triangle becomes several in its own plane.
 *
 * @param toleranceMm how far the corners may lie off the edge
 * @returns the mesh, and how many triangles were divided
 */
export function zipSeams(mesh: TriMesh, toleranceMm: number): { mesh: TriMesh; divided: number } {
  const { positions: p, triangles } = mesh;
  const twin = twinsOf(mesh);
  const leaving = new Map<number, number[]>();
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] !== OPEN) continue;
    const list = leaving.get(originOf(mesh, h));
    if (list) list.push(h);
    else leaving.set(originOf(mesh, h), [h]);
  }
  /** corners of the other side between the ends of an open edge, from its origin on */
  const between = (h: number): number[] | null => {
    const a = originOf(mesh, h);
    const b = targetOf(mesh, h);
    const d = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k]);
    const dd = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
    if (!(dd > 0)) return null;
    const chain: number[] = [];
    let at = b;
    let share = 1;
    while (at !== a) {
      let found = -1;
      for (const g of leaving.get(at) ?? []) {
        const v = targetOf(mesh, g);
        const e = [0, 1, 2].map((k) => p[3 * v + k] - p[3 * a + k]);
        const s = (e[0] * d[0] + e[1] * d[1] + e[2] * d[2]) / dd;
        if (v === a ? at === b : !(s > 0 && s < share)) continue;
        const off = Math.hypot(e[0] - s * d[0], e[1] - s * d[1], e[2] - s * d[2]);
        if (off > toleranceMm) continue;
        found = v;
        share = s;
        break;
      }
      if (found < 0) return null;
      if (found !== a) chain.push(found);
      at = found;
    }
    return chain.length > 0 ? chain.reverse() : null;
  };
  const chains = new Map<number, number[]>();
  for (const list of leaving.values())
    for (const h of list) {
      const chain = between(h);
      if (chain) chains.set(h, chain);
    }
  if (chains.size === 0) return { mesh, divided: 0 };
  const faces = new GrowableIndices(triangles.length + 3 * 64);
  const done = new Set<number>();
  for (let t = 0; t < triangleCount(mesh); t++) {
    // one side of a triangle at a time: another call divides the next
    const h = [3 * t, 3 * t + 1, 3 * t + 2].find((g) => chains.has(g));
    if (h === undefined) {
      faces.push3(triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]);
      continue;
    }
    done.add(t);
    const apex = originOf(mesh, nextHalfEdge(nextHalfEdge(h)));
    const way = [originOf(mesh, h), ...chains.get(h)!, targetOf(mesh, h)];
    for (let i = 0; i + 1 < way.length; i++) faces.push3(way[i], way[i + 1], apex);
  }
  return { mesh: { positions: p, triangles: faces.taken() }, divided: done.size };
}
