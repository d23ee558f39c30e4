import { normalize } from '../../mesh/transform.ts';
import { triangleCount, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { simplifyTo } from '../../repair/makeSimpler.ts';
import { fromSolid, toSolid, type Kernel, type Solid } from '../../solid/kernel.ts';
import { isMeshError } from '../../run/MeshError.ts';
import type { Keep } from './bodies.ts';

/** Triangles of the stand-in on which cuts are tried. */
const proxyTriangles = 6000;
/** Above this, quick collapses go before the kernel's own. */
const heavy = 60_000;

/**
 * A stand-in of a solid with few triangles, on which cuts are tried: closed, within a tolerance that grows until it is
 * light enough. Corners keep their places, so that its hull lies within the solid's.
 *
 * @returns the stand-in, and how far its skin may lie from the solid's
 * @param mostMm the tolerance goes no further; the stand-in may stay heavier then
 */
export async function proxyOf(
  kernel: Kernel,
  keep: Keep,
  mesh: TriMesh,
  mostMm: number,
): Promise<{ mesh: TriMesh; toleranceMm: number }> {
  let solid: Solid | null = null;
  let toleranceMm = 0;
  if (triangleCount(mesh) > heavy)
    try {
      solid = keep(toSolid(kernel, await simplifyTo(mesh, heavy, mostMm / 4)));
      toleranceMm = mostMm / 4;
    } catch (error) {
      if (!isMeshError(error)) throw error;
    }
  solid ??= keep(toSolid(kernel, mesh));
  for (let t = mostMm / 64; solid.numTri() > proxyTriangles && t <= mostMm; t *= 2) {
    solid = keep(solid.simplify(t));
    toleranceMm = Math.max(toleranceMm, t);
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
