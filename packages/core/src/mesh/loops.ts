import { originOf, targetOf } from './edges.ts';
import type { TriMesh } from './TriMesh.ts';

/** Length of a loop of half-edges, mm. */
export function loopLength(mesh: TriMesh, loop: Uint32Array): number {
  const p = mesh.positions;
  let length = 0;
  for (const h of loop) {
    const a = 3 * originOf(mesh, h);
    const b = 3 * targetOf(mesh, h);
    length += Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]);
  }
  return length;
}

/** Loops by length, the longest first: the numbers that findings and `mend` call them by. */
export const loopOrder = (lengths: number[]): number[] =>
  lengths.map((_, i) => i).sort((a, b) => lengths[b] - lengths[a] || a - b);

/** How far the corners of a loop stand off its plane, mm. */
export function outOfPlane(mesh: TriMesh, loop: Uint32Array): number {
  const p = mesh.positions;
  const c = [0, 0, 0];
  for (const h of loop) for (let k = 0; k < 3; k++) c[k] += p[3 * originOf(mesh, h) + k] / loop.length;
  const n = [0, 0, 0];
  for (const h of loop)
    for (let k = 0; k < 3; k++) {
      const a = 3 * originOf(mesh, h);
      const b = 3 * targetOf(mesh, h);
      const [u, v] = [(k + 1) % 3, (k + 2) % 3];
      n[k] += (p[a + u] - c[u]) * (p[b + v] - c[v]) - (p[a + v] - c[v]) * (p[b + u] - c[u]);
    }
  const l = Math.hypot(n[0], n[1], n[2]) || 1;
  let off = 0;
  for (const h of loop) {
    const a = 3 * originOf(mesh, h);
    off = Math.max(off, Math.abs((p[a] - c[0]) * n[0] + (p[a + 1] - c[1]) * n[1] + (p[a + 2] - c[2]) * n[2]) / l);
  }
  return off;
}
