import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { normalize } from '../../mesh/transform.ts';
import { triangleCount, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { simplifyTo } from '../../repair/makeSimpler.ts';
import { fromSolid, toSolid, type Kernel, type Solid } from '../../solid/kernel.ts';
import { isMeshError } from '../../run/MeshError.ts';
import type { Keep } from './bodies.ts';

/** Triangles of the stand-in on which cuts are tried. */
const proxyTriangles = 6000;
/** More corners than this are looked at in a sample when it is measured how far they lie outside. */
const sampled = 30_000;
/** Where so many lie too far off, half as many again are tried. */
const more = 1.5;
/** A stand-in whose volume is off by more is none; thin shells lose some by their facets. */
const volumeOff = 0.05;

/** Share of a mesh's corners that are to lie no farther from the stand-in than is said of it. */
const nearlyAll = 0.99;

/** How far nearly all corners of a mesh lie from another skin at most, mm. */
function distanceFrom(mesh: TriMesh, light: TriMesh): number {
  const tree = treeOf(light);
  const n = mesh.positions.length / 3;
  const step = Math.max(1, Math.ceil(n / sampled));
  const hit = newHit();
  const all = new Float64Array(Math.ceil(n / step));
  for (let v = 0; v < n; v += step) {
    const [x, y, z] = mesh.positions.subarray(3 * v, 3 * v + 3);
    all[v / step] = tree.nearest(x, y, z, Infinity, hit, hit.triangle).distance;
  }
  return all.sort()[Math.floor(nearlyAll * (all.length - 1))];
}

/** By quadric collapses, which keep the form of rough skin with far fewer triangles; null where that is no solid. */
async function quickProxy(
  kernel: Kernel,
  keep: Keep,
  mesh: TriMesh,
  triangles: number,
  mostMm: number,
): Promise<Solid | null> {
  try {
    const light = await simplifyTo(mesh, triangles, mostMm);
    const solid = keep(toSolid(kernel, light));
    return Math.abs(solid.volume() / volumeOf(mesh) - 1) < volumeOff ? solid : null;
  } catch (error) {
    if (isMeshError(error)) return null;
    throw error;
  }
}

/**
 * A stand-in of a solid with few triangles, on which cuts are tried: closed, within a tolerance that grows until it is
 * light enough. Corners keep their places, so that its hull lies within the solid's.
 *
 * @returns the stand-in, and how far the solid's skin may lie from its own
 * @param mostMm the tolerance goes no further; the stand-in may stay heavier then
 */
export async function proxyOf(
  kernel: Kernel,
  keep: Keep,
  mesh: TriMesh,
  mostMm: number,
): Promise<{ mesh: TriMesh; toleranceMm: number }> {
  if (triangleCount(mesh) > 2 * proxyTriangles) {
    let best: { mesh: TriMesh; toleranceMm: number } | null = null;
    for (const triangles of [proxyTriangles, more * proxyTriangles]) {
      const quick = await quickProxy(kernel, keep, mesh, triangles, 2 * mostMm);
      if (!quick) continue;
      const light = fromSolid(quick);
      best = { mesh: light, toleranceMm: distanceFrom(mesh, light) };
      if (best.toleranceMm < mostMm) break;
    }
    if (best && best.toleranceMm < 2 * mostMm) return best;
  }
  let solid = keep(toSolid(kernel, mesh));
  let toleranceMm = 0;
  for (let t = mostMm / 64; solid.numTri() > proxyTriangles && t <= mostMm; t *= 2) {
    solid = keep(solid.simplify(t));
    toleranceMm = t;
  }
  return { mesh: fromSolid(solid), toleranceMm };
}

/** Unit vectors spread evenly over the half sphere, by the golden angle. */
export function spreadDirections(count: number): Vec3[] {
  return Array.from({ length: count }, (_, i) => {
    const z = (i + 0.5) / count;
    const a = Math.PI * (3 - Math.sqrt(5)) * i;
    const r = Math.sqrt(1 - z * z);
    return normalize([r * Math.cos(a), r * Math.sin(a), z]);
  });
}
