import { newHit, treeOf } from '../mesh/Bvh.ts';
import { twinsOf } from '../mesh/edges.ts';
import { crossesOf } from '../mesh/measures.ts';
import { dot, normalize } from '../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { weldExact } from '../mesh/weld.ts';
import { MeshError } from '../run/MeshError.ts';

/** Cosine of the angle within which neighbours count to one face. */
const flatness = Math.cos(Math.PI / 180);

/**
 * The face at a point: triangles around the nearest one that lie in its plane. Normal and area.
 *
 * @throws MeshError `cannot` where the triangle there has no area
 */
export function faceAt(source: TriMesh, at: Vec3): { normal: Vec3; areaMm2: number } {
  const mesh = weldExact(source);
  const hit = treeOf(mesh).nearest(at[0], at[1], at[2], Infinity, newHit());
  const crosses = crossesOf(mesh);
  const normalOf = (t: number): Vec3 => normalize([crosses[3 * t], crosses[3 * t + 1], crosses[3 * t + 2]]);
  const first = normalOf(hit.triangle);
  if (!(Math.hypot(...first) > 0))
    throw new MeshError('cannot', 'The triangle at that point has no area.', 'Pick a point beside it.', 'face');
  const twin = twinsOf(mesh);
  const seen = new Set([hit.triangle]);
  const queue = [hit.triangle];
  const sum = [0, 0, 0];
  while (queue.length > 0) {
    const t = queue.pop()!;
    for (let k = 0; k < 3; k++) sum[k] += crosses[3 * t + k];
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const next = twin[h] < 0 ? -1 : (twin[h] / 3) | 0;
      if (next < 0 || seen.has(next) || dot(normalOf(next), first) < flatness) continue;
      seen.add(next);
      queue.push(next);
    }
  }
  return { normal: normalize([sum[0], sum[1], sum[2]]), areaMm2: Math.hypot(...sum) / 2 };
}
