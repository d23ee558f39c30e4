import { PointTable, scatter } from './PointTable.ts';
import { isWelded, noteWelded, type TriMesh } from './TriMesh.ts';

/**
 * Joins corners of a triangle soup that have exactly the same coordinates (-0 equals 0).
 *
 * @param soup 9 floats a triangle, mm
 * @returns an indexed mesh; vertices in order of first appearance, so the result is deterministic
 */
export function weldSoup(soup: Float32Array): TriMesh {
  const table = new PointTable(Math.ceil(soup.length / 16));
  const triangles = new Uint32Array(soup.length / 3);
  for (let i = 0; i < triangles.length; i++) triangles[i] = table.add(soup, i);
  return noteWelded({ positions: table.positions(), triangles });
}

/**
 * Joins vertices of an indexed mesh that have exactly the same coordinates (-0 equals 0), drops unused ones, and puts
 * the others in order of first appearance. A mesh that is welded already comes back as it is.
 */
export function weldExact(mesh: TriMesh): TriMesh {
  if (isWelded(mesh)) return mesh;
  const { positions, triangles } = mesh;
  const table = new PointTable(positions.length / 3);
  const known = new Int32Array(positions.length / 3).fill(-1);
  const out = new Uint32Array(triangles.length);
  for (let i = 0; i < triangles.length; i++) {
    const v = triangles[i];
    if (known[v] < 0) known[v] = table.add(positions, v);
    out[i] = known[v];
  }
  return noteWelded({ positions: table.positions(), triangles: out });
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
  // points within the tolerance lie in the same cell or in one of the seven nearest
  const cell = tolerance > 0 ? 2 * tolerance : 1e-12;
  const limit = tolerance * tolerance;
  let size = 16;
  let eligibleCount = 0;
  for (let v = 0; v < n; v++) if (!eligible || eligible[v]) eligibleCount++;
  while (size < 2 * eligibleCount) size *= 2;
  // chains of kept vertices by cell; cells that share a slot only cost time
  const head = new Int32Array(size).fill(-1);
  const next = new Int32Array(n);
  const slotOf = (i: number, j: number, k: number): number =>
    scatter(Math.imul(i | 0, 73856093) ^ Math.imul(j | 0, 19349663) ^ Math.imul(k | 0, 83492791)) & (size - 1);
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
    const di = x / cell - i < 0.5 ? -1 : 1;
    const dj = y / cell - j < 0.5 ? -1 : 1;
    const dk = z / cell - k < 0.5 ? -1 : 1;
    for (let c = 0; c < 8; c++)
      for (
        let u = head[slotOf(i + (c & 1 ? di : 0), j + (c & 2 ? dj : 0), k + (c & 4 ? dk : 0))];
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
