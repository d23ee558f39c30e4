import type { TriMesh } from './TriMesh.ts';

const ends = new Float64Array(6);

/**
 * The segment in which two triangles cross, in floating point: for drawing and for lengths, not for decisions.
 *
 * @returns x, y, z of both ends in a buffer that the next call fills again, or null where they only touch or lie in one
 * plane
 */
export function crossingSegment(mesh: TriMesh, s: number, t: number): Float64Array | null {
  const { positions: p, triangles } = mesh;
  let found = 0;
  for (let turn = 0; turn < 2 && found < 2; turn++) {
    const one = turn === 0 ? s : t;
    const other = turn === 0 ? t : s;
    const a = 3 * triangles[3 * other];
    const b = 3 * triangles[3 * other + 1];
    const c = 3 * triangles[3 * other + 2];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const nn = nx * nx + ny * ny + nz * nz;
    if (nn === 0) return null;
    for (let k = 0; k < 3 && found < 2; k++) {
      const e = 3 * triangles[3 * one + k];
      const f = 3 * triangles[3 * one + ((k + 1) % 3)];
      const de = nx * (p[e] - p[a]) + ny * (p[e + 1] - p[a + 1]) + nz * (p[e + 2] - p[a + 2]);
      const df = nx * (p[f] - p[a]) + ny * (p[f + 1] - p[a + 1]) + nz * (p[f + 2] - p[a + 2]);
      if (de > 0 === df > 0 || de === df) continue;
      const q = de / (de - df);
      const x = p[e] + q * (p[f] - p[e]);
      const y = p[e + 1] + q * (p[f + 1] - p[e + 1]);
      const z = p[e + 2] + q * (p[f + 2] - p[e + 2]);
      const wx = x - p[a];
      const wy = y - p[a + 1];
      const wz = z - p[a + 2];
      const j = ((uy * wz - uz * wy) * nx + (uz * wx - ux * wz) * ny + (ux * wy - uy * wx) * nz) / nn;
      const i = ((wy * vz - wz * vy) * nx + (wz * vx - wx * vz) * ny + (wx * vy - wy * vx) * nz) / nn;
      if (i < -1e-9 || j < -1e-9 || i + j > 1 + 1e-9) continue;
      if (found === 1 && ends[0] === x && ends[1] === y && ends[2] === z) continue;
      ends[3 * found] = x;
      ends[3 * found + 1] = y;
      ends[3 * found + 2] = z;
      found++;
    }
  }
  return found === 2 ? ends : null;
}
