import { windingOf } from '../../mesh/WindingTree.ts';
import { boundsOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';

/**
 * Liquid that stays in a cavity when it stands with z up and drains at the points given: every cell whose lowest
 * possible way out rises above it keeps liquid up to that sill (priority flood, Barnes et al. 2014).
 *
 * @param cavity closed mesh facing out, z up
 * @param drains where liquid leaves, with the radius of the hole; mm
 * @returns mm3
 */
export function trappedVolume(cavity: TriMesh, drains: readonly { at: Vec3; radius: number }[], cells = 44): number {
  const { min, max } = boundsOf(cavity);
  const size = [0, 1, 2].map((k) => max[k] - min[k]);
  const step = Math.max(...size) / cells || 1;
  const n = size.map((s) => Math.max(1, Math.ceil(s / step)));
  const inside = new Uint8Array(n[0] * n[1] * n[2]);
  const tree = windingOf(cavity);
  const at = (i: number): Vec3 => [
    min[0] + ((i % n[0]) + 0.5) * step,
    min[1] + ((Math.floor(i / n[0]) % n[1]) + 0.5) * step,
    min[2] + (Math.floor(i / (n[0] * n[1])) + 0.5) * step,
  ];
  for (let i = 0; i < inside.length; i++) {
    const [x, y, z] = at(i);
    if (tree.at(x, y, z) > 0.5) inside[i] = 1;
  }
  // cells wait in buckets by the height of the highest point on their way to a drain
  const waiting: number[][] = Array.from({ length: n[2] }, () => []);
  const sill = new Int32Array(inside.length).fill(-1);
  for (let i = 0; i < inside.length; i++) {
    if (!inside[i]) continue;
    const p = at(i);
    if (drains.some((d) => Math.hypot(p[0] - d.at[0], p[1] - d.at[1], p[2] - d.at[2]) < d.radius + 1.5 * step)) {
      const k = Math.floor(i / (n[0] * n[1]));
      sill[i] = k;
      waiting[k].push(i);
    }
  }
  for (let level = 0; level < n[2]; level++)
    for (let i = waiting[level].pop(); i !== undefined; i = waiting[level].pop()) {
      const x = i % n[0];
      const y = Math.floor(i / n[0]) % n[1];
      const z = Math.floor(i / (n[0] * n[1]));
      const visit = (j: number, k: number) => {
        if (!inside[j] || sill[j] >= 0) return;
        sill[j] = Math.max(level, k);
        waiting[sill[j]].push(j);
      };
      if (x > 0) visit(i - 1, z);
      if (x + 1 < n[0]) visit(i + 1, z);
      if (y > 0) visit(i - n[0], z);
      if (y + 1 < n[1]) visit(i + n[0], z);
      if (z > 0) visit(i - n[0] * n[1], z - 1);
      if (z + 1 < n[2]) visit(i + n[0] * n[1], z + 1);
    }
  let trapped = 0;
  for (let i = 0; i < inside.length; i++)
    if (inside[i] && (sill[i] < 0 || sill[i] > Math.floor(i / (n[0] * n[1])))) trapped++;
  return trapped * step ** 3;
}
