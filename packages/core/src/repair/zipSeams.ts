import { openEdgesOf, originOf, targetOf } from '../mesh/edges.ts';
import { GrowableIndices } from '../mesh/Growable.ts';
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
  const { list, first, after } = openEdgesOf(mesh);
  /** corners of the other side between the ends of an open edge, from its origin on */
  const between = (h: number): number[] | null => {
    const a = originOf(mesh, h);
    const b = targetOf(mesh, h);
    const dx = p[3 * b] - p[3 * a];
    const dy = p[3 * b + 1] - p[3 * a + 1];
    const dz = p[3 * b + 2] - p[3 * a + 2];
    const dd = dx * dx + dy * dy + dz * dz;
    if (!(dd > 0)) return null;
    const chain: number[] = [];
    let at = b;
    let share = 1;
    while (at !== a) {
      let found = -1;
      for (let g = first[at]; g >= 0; g = after[g]) {
        const v = targetOf(mesh, list[g]);
        const ex = p[3 * v] - p[3 * a];
        const ey = p[3 * v + 1] - p[3 * a + 1];
        const ez = p[3 * v + 2] - p[3 * a + 2];
        const s = (ex * dx + ey * dy + ez * dz) / dd;
        if (v === a ? at === b : !(s > 0 && s < share)) continue;
        const off = Math.hypot(ex - s * dx, ey - s * dy, ez - s * dz);
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
