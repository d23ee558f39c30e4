import { treeOf } from '../../mesh/Bvh.ts';
import { edgesOf } from '../../mesh/edges.ts';
import { crossesOf, triangleCentre } from '../../mesh/measures.ts';
import { cross, dot, normalize } from '../../mesh/transform.ts';
import { diagonalOf, triangleCount, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import type { RunContext } from '../../run/context.ts';
import { figures } from '../../trade/figures.ts';
import { spreadDirections } from './proxySolid.ts';

/** What a seam counts for on skin that faces the floor (nobody looks there), and in a groove, where it passes for one. */
const underneath = 0.3;
const inGroove = 0.35;
const rays = spreadDirections(16);

/**
 * How much a seam would show on each triangle: the share of all directions out of the skin from which light comes in,
 * less where it looks down or lies in a groove (seams hidden where they are seen least: Filoscia, Alderighi, Giorgi, Malomo, Callieri and Cignoni 2020).
 */
export function seenSkin(mesh: TriMesh, context: RunContext): Float32Array {
  const n = triangleCount(mesh);
  const out = new Float32Array(n);
  const tree = treeOf(mesh);
  const crosses = crossesOf(mesh);
  const start = 1e-5 * diagonalOf(mesh);
  for (let t = 0; t < n; t++) {
    if ((t & 255) === 0) {
      context.checkCancelled();
      context.progress(t / n, 'Looking where a seam would show');
    }
    const normal = normalize([crosses[3 * t], crosses[3 * t + 1], crosses[3 * t + 2]]);
    const centre = triangleCentre(mesh, t);
    const from: Vec3 = [centre[0] + start * normal[0], centre[1] + start * normal[1], centre[2] + start * normal[2]];
    let open = 0;
    let all = 0;
    for (const ray of rays) {
      const d = dot(ray, normal);
      if (Math.abs(d) < 0.1) continue;
      const way: Vec3 = d > 0 ? ray : [-ray[0], -ray[1], -ray[2]];
      all++;
      if (!tree.isBlocked(from, way, 0, t)) open++;
    }
    out[t] = (all > 0 ? open / all : 1) * (normal[2] < -0.5 ? underneath : 1);
  }
  hideInGrooves(mesh, crosses, out);
  return out;
}

/** Skin beside a fold inward sharper than a crease counts for less. */
function hideInGrooves(mesh: TriMesh, crosses: ArrayLike<number>, seen: Float32Array): void {
  const { start, order, count } = edgesOf(mesh);
  const least = Math.cos((figures.creaseDeg.value * Math.PI) / 180);
  const normalOf = (t: number): Vec3 => normalize([crosses[3 * t], crosses[3 * t + 1], crosses[3 * t + 2]]);
  const groove = new Uint8Array(seen.length);
  for (let e = 0; e < count; e++) {
    if (start[e + 1] - start[e] !== 2) continue;
    const a = (order[start[e]] / 3) | 0;
    const b = (order[start[e] + 1] / 3) | 0;
    const na = normalOf(a);
    const nb = normalOf(b);
    if (dot(na, nb) > least) continue;
    const ca = triangleCentre(mesh, a);
    const cb = triangleCentre(mesh, b);
    // folded inward: the neighbour rises over the plane of the triangle
    if (dot(na, [cb[0] - ca[0], cb[1] - ca[1], cb[2] - ca[2]]) <= 0 || Math.hypot(...cross(na, nb)) === 0) continue;
    groove[a] = groove[b] = 1;
  }
  for (let t = 0; t < seen.length; t++) if (groove[t]) seen[t] *= inGroove;
}
