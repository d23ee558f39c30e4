import { Bvh } from '../mesh/Bvh.ts';
import type { RunContext } from '../mesh/context.ts';
import { buildEdges } from '../mesh/edges.ts';
import { selfIntersections } from '../mesh/selfIntersections.ts';
import { subMesh, triangleCount, vertexCount, type TriMesh } from '../mesh/TriMesh.ts';
import { fillHoles } from './fillHoles.ts';
import { separateSheets } from './separateSheets.ts';

/**
 * Takes out triangles that cross, with a ring that grows where crossing comes back, and closes the holes again
 * (after Attene 2010). Gives up when most of the mesh would go.
 *
 * @param suspects flags of the triangles that may cross anything; all, if left out. After the first round only what was
 * made anew is tested
 * @returns null when crossings are left after the last round
 */
export function settleCrossings(
  start: TriMesh,
  scale: number,
  context: RunContext,
  rounds = 6,
  suspects?: Uint8Array,
): TriMesh | null {
  let mesh = start;
  let tested = suspects;
  for (let round = 0; round <= rounds; round++) {
    context.checkCancelled();
    context.progress(round / (rounds + 1), `Settling crossings, round ${round + 1}`);
    if (tested && !tested.includes(1)) return mesh;
    const { count, pairs } = selfIntersections(mesh, new Bvh(mesh), 200_000, context, tested);
    if (count === 0) return mesh;
    if (round === rounds) return null;
    const n = triangleCount(mesh);
    const bad = new Uint8Array(n);
    for (const t of pairs) bad[t] = 1;
    const touched = new Uint8Array(vertexCount(mesh));
    for (let ring = 0; ring < round; ring++) {
      for (let t = 0; t < n; t++) if (bad[t]) for (let k = 0; k < 3; k++) touched[mesh.triangles[3 * t + k]] = 1;
      for (let t = 0; t < n; t++)
        if (touched[mesh.triangles[3 * t]] || touched[mesh.triangles[3 * t + 1]] || touched[mesh.triangles[3 * t + 2]])
          bad[t] = 1;
    }
    const keep: number[] = [];
    for (let t = 0; t < n; t++) if (!bad[t]) keep.push(t);
    if (keep.length < n / 2) return null;
    const left = subMesh(mesh, keep);
    const open = separateSheets(left, 2e-5 * scale).mesh;
    mesh = fillHoles(open, { limitMm: Infinity, follow: false }, context).mesh;
    const edges = buildEdges(mesh);
    for (let e = 0; e < edges.count; e++) if (edges.start[e + 1] - edges.start[e] !== 2) return null;
    // what is still where it was, corner by corner, cannot have come to cross anything old
    const old = left.triangles.length === open.triangles.length ? left : null;
    tested = new Uint8Array(triangleCount(mesh)).fill(1);
    if (old)
      for (let t = 0; t < triangleCount(old); t++) {
        let same = 1;
        for (let c = 3 * t; c < 3 * t + 3; c++) if (mesh.triangles[c] !== old.triangles[c]) same = 0;
        if (same) tested[t] = 0;
      }
  }
  return null;
}
