import { oncePerMesh } from './oncePerMesh.ts';
import { PointTable } from './PointTable.ts';
import { triangleCount, vertexCount, type TriMesh } from './TriMesh.ts';

/** Which triangles of two meshes stand in the other with the very same three corners. */
export interface SharedTriangles {
  /** a flag for each triangle of the first mesh */
  a: Uint8Array;
  /** a flag for each triangle of the second */
  b: Uint8Array;
  /** for each triangle of the second, the first one like it in the first mesh, or -1 */
  from: Int32Array;
}

const known = oncePerMesh((_first) => new WeakMap<TriMesh, SharedTriangles>());

/** Compares the triangles of two meshes bit for bit, whichever way they face; done once for each two. */
export function sharedTriangles(a: TriMesh, b: TriMesh): SharedTriangles {
  const done = known(a).get(b);
  if (done) return done;
  const shared = compare(a, b);
  known(a).set(b, shared);
  return shared;
}

function compare(a: TriMesh, b: TriMesh): SharedTriangles {
  const na = triangleCount(a);
  const nb = triangleCount(b);
  const points = new PointTable(vertexCount(a));
  const inA = new Int32Array(vertexCount(a));
  for (let v = 0; v < inA.length; v++) inA[v] = points.add(a.positions, v);
  const inB = new Int32Array(vertexCount(b));
  for (let v = 0; v < inB.length; v++) inB[v] = points.find(b.positions, v);
  // chains by the smallest vertex, as in the search for duplicates; the earliest triangle comes first
  const head = new Int32Array(vertexCount(a)).fill(-1);
  const next = new Int32Array(na);
  const t = a.triangles;
  for (let i = na - 1; i >= 0; i--) {
    const low = Math.min(inA[t[3 * i]], inA[t[3 * i + 1]], inA[t[3 * i + 2]]);
    next[i] = head[low];
    head[low] = i;
  }
  const flags = { a: new Uint8Array(na), b: new Uint8Array(nb), from: new Int32Array(nb).fill(-1) };
  for (let i = 0; i < nb; i++) {
    const u = inB[b.triangles[3 * i]];
    const v = inB[b.triangles[3 * i + 1]];
    const w = inB[b.triangles[3 * i + 2]];
    if (u < 0 || v < 0 || w < 0) continue;
    const high = Math.max(u, v, w);
    for (let s = head[Math.min(u, v, w)]; s >= 0; s = next[s]) {
      const x = inA[t[3 * s]];
      const y = inA[t[3 * s + 1]];
      const z = inA[t[3 * s + 2]];
      if (x + y + z !== u + v + w || Math.max(x, y, z) !== high) continue;
      flags.a[s] = 1;
      if (flags.b[i] === 0) flags.from[i] = s;
      flags.b[i] = 1;
    }
  }
  return flags;
}
