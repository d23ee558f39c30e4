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
 * @returns null when crossings are left after the last round
 */
export function settleCrossings(start: TriMesh, scale: number, context: RunContext, rounds = 6): TriMesh | null {
  let mesh = start;
  for (let round = 0; round <= rounds; round++) {
    context.checkCancelled();
    context.progress(round / (rounds + 1), `Settling crossings, round ${round + 1}`);
    const { count, pairs } = selfIntersections(mesh, undefined, 200_000, context);
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
    const open = separateSheets(subMesh(mesh, keep), 2e-5 * scale).mesh;
    mesh = fillHoles(open, Infinity, context).mesh;
    const edges = buildEdges(mesh);
    for (let e = 0; e < edges.count; e++) if (edges.start[e + 1] - edges.start[e] !== 2) return null;
  }
  return null;
}
