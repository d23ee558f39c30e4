import { vertexCount, type TriMesh } from './TriMesh.ts';

/**
 * Triangles over the same three vertices as an earlier one, whichever way they face.
 *
 * @returns `flags` 1 for each; `twinOf` the earlier triangle of those that are flagged
 */
export function findDuplicates(mesh: TriMesh): {
  count: number;
  first: number;
  flags: Uint8Array;
  twinOf: Uint32Array;
} {
  const { triangles } = mesh;
  const n = triangles.length / 3;
  const flags = new Uint8Array(n);
  const twinOf = new Uint32Array(n);
  const head = new Int32Array(vertexCount(mesh)).fill(-1);
  const next = new Int32Array(n);
  let count = 0;
  let first = -1;
  for (let t = 0; t < n; t++) {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    const low = Math.min(a, b, c);
    const high = Math.max(a, b, c);
    const sum = a + b + c;
    let s = head[low];
    for (; s >= 0; s = next[s]) {
      const x = triangles[3 * s];
      const y = triangles[3 * s + 1];
      const z = triangles[3 * s + 2];
      if (x + y + z === sum && Math.max(x, y, z) === high) break;
    }
    if (s >= 0) {
      flags[t] = 1;
      twinOf[t] = s;
      if (count++ === 0) first = t;
    } else {
      next[t] = head[low];
      head[low] = t;
    }
  }
  return { count, first, flags, twinOf };
}
