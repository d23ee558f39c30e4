import type { TriMesh } from './TriMesh.ts';

const bits = (x: number): number => {
  x = Math.imul(x ^ (x >>> 16), 0x45d9f3b);
  x = Math.imul(x ^ (x >>> 16), 0x45d9f3b);
  return x ^ (x >>> 16);
};

/**
 * Joins corners of a triangle soup that have exactly the same coordinates (-0 equals 0).
 *
 * @param soup 9 floats a triangle, mm
 * @returns an indexed mesh; vertices in order of first appearance, so the result is deterministic
 */
export function weldSoup(soup: Float32Array): TriMesh {
  const corners = soup.length / 3;
  for (let i = 0; i < soup.length; i++) soup[i] += 0;
  const { ids, positions } = weldPoints(soup, corners);
  return { positions, triangles: ids };
}

/** Joins vertices of an indexed mesh that have exactly the same coordinates; drops unused vertices. */
export function weldExact(mesh: TriMesh): TriMesh {
  const { positions, triangles } = mesh;
  const clean = new Float32Array(positions.length);
  for (let i = 0; i < clean.length; i++) clean[i] = positions[i] + 0;
  const welded = weldPoints(clean, clean.length / 3);
  const unused = welded.positions.length / 3;
  const remap = new Int32Array(unused).fill(-1);
  const out = new Uint32Array(triangles.length);
  let used = 0;
  for (let i = 0; i < triangles.length; i++) {
    const v = welded.ids[triangles[i]];
    if (remap[v] < 0) remap[v] = used++;
    out[i] = remap[v];
  }
  if (used === 0) return { positions: new Float32Array(0), triangles: out };
  const kept = new Float32Array(used * 3);
  for (let v = 0; v < unused; v++)
    if (remap[v] >= 0) for (let k = 0; k < 3; k++) kept[3 * remap[v] + k] = welded.positions[3 * v + k];
  return { positions: kept, triangles: out };
}

/**
 * Open-addressing table over the three 32-bit patterns of a point. Table slots hold id + 1.
 */
function weldPoints(points: Float32Array, count: number): { ids: Uint32Array; positions: Float32Array } {
  const raw = new Uint32Array(points.buffer, points.byteOffset, points.length);
  const ids = new Uint32Array(count);
  let size = 1 << 12;
  while (size < count) size *= 2;
  let table = new Int32Array(size);
  let mask = size - 1;
  let kept = new Uint32Array(Math.max(16, count >> 2) * 3);
  let unique = 0;
  for (let i = 0; i < count; i++) {
    const a = raw[3 * i];
    const b = raw[3 * i + 1];
    const c = raw[3 * i + 2];
    let slot = bits(a ^ bits(b ^ bits(c))) & mask;
    let id = table[slot];
    while (id !== 0) {
      const j = 3 * (id - 1);
      if (kept[j] === a && kept[j + 1] === b && kept[j + 2] === c) break;
      slot = (slot + 1) & mask;
      id = table[slot];
    }
    if (id === 0) {
      if (3 * unique + 3 > kept.length) {
        const grown = new Uint32Array(kept.length * 2);
        grown.set(kept);
        kept = grown;
      }
      kept[3 * unique] = a;
      kept[3 * unique + 1] = b;
      kept[3 * unique + 2] = c;
      id = ++unique;
      table[slot] = id;
      if (unique * 3 > size * 2) {
        size *= 2;
        mask = size - 1;
        table = new Int32Array(size);
        for (let u = 0; u < unique; u++) {
          let s = bits(kept[3 * u] ^ bits(kept[3 * u + 1] ^ bits(kept[3 * u + 2]))) & mask;
          while (table[s] !== 0) s = (s + 1) & mask;
          table[s] = u + 1;
        }
      }
    }
    ids[i] = id - 1;
  }
  return { ids, positions: new Float32Array(kept.slice(0, 3 * unique).buffer) };
}

/**
 * Joins vertices closer than `tolerance` among those marked in `eligible` (all, if left out). Each vertex moves
 * to the first of its group, so points that need no joining stay bit for bit.
 *
 * @param tolerance mm
 * @returns the mesh with joined indices (triangles that collapsed are dropped) and how many vertices were joined
 */
export function weldWithin(mesh: TriMesh, tolerance: number, eligible?: Uint8Array): { mesh: TriMesh; joined: number } {
  const { positions, triangles } = mesh;
  const n = positions.length / 3;
  const to = new Uint32Array(n);
  const cell = tolerance > 0 ? tolerance : 1e-12;
  const limit = tolerance * tolerance;
  let size = 16;
  let eligibleCount = 0;
  for (let v = 0; v < n; v++) if (!eligible || eligible[v]) eligibleCount++;
  while (size < 2 * eligibleCount) size *= 2;
  // chains of kept vertices by cell; cells that share a slot only cost time
  const head = new Int32Array(size).fill(-1);
  const next = new Int32Array(n);
  const slotOf = (i: number, j: number, k: number): number =>
    bits(Math.imul(i | 0, 73856093) ^ Math.imul(j | 0, 19349663) ^ Math.imul(k | 0, 83492791)) & (size - 1);
  let joined = 0;
  for (let v = 0; v < n; v++) {
    to[v] = v;
    if (eligible && !eligible[v]) continue;
    const x = positions[3 * v];
    const y = positions[3 * v + 1];
    const z = positions[3 * v + 2];
    const i = Math.floor(x / cell);
    const j = Math.floor(y / cell);
    const k = Math.floor(z / cell);
    let nearest = -1;
    let nearestSq = limit;
    for (let c = 0; c < 27; c++)
      for (
        let u = head[slotOf(i + (c % 3) - 1, j + (Math.floor(c / 3) % 3) - 1, k + Math.floor(c / 9) - 1)];
        u >= 0;
        u = next[u]
      ) {
        const d = (positions[3 * u] - x) ** 2 + (positions[3 * u + 1] - y) ** 2 + (positions[3 * u + 2] - z) ** 2;
        if (d <= nearestSq) {
          nearestSq = d;
          nearest = u;
        }
      }
    if (nearest >= 0) {
      to[v] = nearest;
      joined++;
    } else {
      const slot = slotOf(i, j, k);
      next[v] = head[slot];
      head[slot] = v;
    }
  }
  if (joined === 0) return { mesh, joined };
  const out = new Uint32Array(triangles.length);
  let length = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const a = to[triangles[t]];
    const b = to[triangles[t + 1]];
    const c = to[triangles[t + 2]];
    if (a === b || b === c || c === a) continue;
    out[length++] = a;
    out[length++] = b;
    out[length++] = c;
  }
  return { mesh: weldExact({ positions, triangles: out.slice(0, length) }), joined };
}
