import { OPEN, originOf, twinsOf } from './edges.ts';
import { boundsOf, type TriMesh, type Vec3 } from './TriMesh.ts';

/** The plane square to an axis at an end of the model that holds every open edge, if there is one. */
export function mirrorPlane(mesh: TriMesh, scale: number): { axis: 'x' | 'y' | 'z'; at: number; place: Vec3 } | null {
  const twin = twinsOf(mesh);
  const p = mesh.positions;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let h = 0; h < twin.length; h++)
    if (twin[h] === OPEN)
      for (let k = 0; k < 3; k++) {
        const x = p[3 * originOf(mesh, h) + k];
        lo[k] = Math.min(lo[k], x);
        hi[k] = Math.max(hi[k], x);
      }
  const { min, max } = boundsOf(mesh);
  for (let k = 0; k < 2; k++) {
    if (hi[k] < lo[k] || !(hi[k] - lo[k] < 1e-4 * scale)) continue;
    const at = (lo[k] + hi[k]) / 2;
    if (Math.min(at - min[k], max[k] - at) > 1e-4 * scale) continue;
    return {
      axis: (['x', 'y', 'z'] as const)[k],
      at,
      place: [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2],
    };
  }
  return null;
}
