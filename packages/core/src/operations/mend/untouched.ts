import { triangleCount, vertexCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';

/**
 * Which triangles of two meshes stand in the other with the very same three corners, whichever way they face.
 *
 * @returns a flag a triangle of each mesh
 */
export function sharedTriangles(a: TriMesh, b: TriMesh): { a: Uint8Array; b: Uint8Array } {
  const na = triangleCount(a);
  const nb = triangleCount(b);
  const positions = new Float32Array(a.positions.length + b.positions.length);
  positions.set(a.positions);
  positions.set(b.positions, a.positions.length);
  const triangles = new Uint32Array(a.triangles.length + b.triangles.length);
  triangles.set(a.triangles);
  const base = vertexCount(a);
  for (let i = 0; i < b.triangles.length; i++) triangles[a.triangles.length + i] = b.triangles[i] + base;
  const { triangles: t, positions: p } = weldExact({ positions, triangles });
  // chains by the smallest vertex, as in the search for duplicates
  const head = new Int32Array(p.length / 3).fill(-1);
  const next = new Int32Array(na);
  for (let i = 0; i < na; i++) {
    const low = Math.min(t[3 * i], t[3 * i + 1], t[3 * i + 2]);
    next[i] = head[low];
    head[low] = i;
  }
  const flags = { a: new Uint8Array(na), b: new Uint8Array(nb) };
  for (let i = 0; i < nb; i++) {
    const o = 3 * (na + i);
    const low = Math.min(t[o], t[o + 1], t[o + 2]);
    const high = Math.max(t[o], t[o + 1], t[o + 2]);
    const sum = t[o] + t[o + 1] + t[o + 2];
    for (let s = head[low]; s >= 0; s = next[s]) {
      const x = t[3 * s];
      const y = t[3 * s + 1];
      const z = t[3 * s + 2];
      if (x + y + z === sum && Math.max(x, y, z) === high) {
        flags.a[s] = 1;
        flags.b[i] = 1;
      }
    }
  }
  return flags;
}
