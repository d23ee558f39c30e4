import { vertexCount, type TriMesh } from './TriMesh.ts';

/** `flags` is 1 for each; `twinOf` is the earlier triangle of those that are flagged. */
interface Duplicates {
  count: number;
  first: number;
  flags: Uint8Array;
  twinOf: Uint32Array;
}

/**
 * Triangles over the same three vertices as an earlier one, whichever way they face. Looked for among those with the same lowest
 * vertex, which lie beside it; where so many share one that this would take long, by a table.
 */
export function findDuplicates(mesh: TriMesh): Duplicates {
  const { triangles } = mesh;
  const n = triangles.length / 3;
  const flags = new Uint8Array(n);
  const twinOf = new Uint32Array(n);
  const head = new Int32Array(vertexCount(mesh)).fill(-1);
  const next = new Int32Array(n);
  let steps = 1_000_000 + 20 * n;
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
      if (steps-- === 0) return byTable(mesh);
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

/** The same by a table of sorted corners with open addressing (Knuth, The Art of Computer Programming 3, 6.4). */
function byTable({ triangles }: TriMesh): Duplicates {
  const n = triangles.length / 3;
  const flags = new Uint8Array(n);
  const twinOf = new Uint32Array(n);
  let places = 16;
  while (places < 2 * n) places *= 2;
  // triangle + 1; 0 where there is none
  const table = new Uint32Array(places);
  let count = 0;
  let first = -1;
  for (let t = 0; t < n; t++) {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    const low = a < b ? (a < c ? a : c) : b < c ? b : c;
    const high = a > b ? (a > c ? a : c) : b > c ? b : c;
    const sum = a + b + c;
    let hash = Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca6b) ^ Math.imul(sum, 0xc2b2ae35);
    hash ^= hash >>> 15;
    let at = hash & (places - 1);
    let found = table[at];
    for (; found !== 0; found = table[at]) {
      const x = triangles[3 * found - 3];
      const y = triangles[3 * found - 2];
      const z = triangles[3 * found - 1];
      if (x + y + z === sum && Math.min(x, y, z) === low && Math.max(x, y, z) === high) break;
      at = (at + 1) & (places - 1);
    }
    if (found === 0) table[at] = t + 1;
    else {
      flags[t] = 1;
      twinOf[t] = found - 1;
      if (count++ === 0) first = t;
    }
  }
  return { count, first, flags, twinOf };
}
