import { MeshoptSimplifier } from 'meshoptimizer/simplifier';
import type { RunContext } from '../mesh/context.ts';
import { inspectMesh } from '../mesh/inspect.ts';
import { isMeshError } from '../mesh/MeshError.ts';
import { diagonalOf, subMesh, triangleCount, type TriMesh, countUp } from '../mesh/TriMesh.ts';
import { fromSolid, toSolid, withSolids } from '../solid/kernel.ts';
import { healTears, settleCrossings } from '../repair/settleCrossings.ts';

/**
 * Fewer triangles within a tolerance, by quadric edge collapses (Garland and Heckbert 1997, meshoptimizer). The result
 * is not tested: use `makeSimpler` where the mesh must stay sound.
 *
 * @param target triangles wanted; 0 for as few as the tolerance allows
 * @param toleranceMm how far the surface may move; Infinity when only the target counts
 */
export async function simplifyTo(mesh: TriMesh, target: number, toleranceMm: number): Promise<TriMesh> {
  await MeshoptSimplifier.ready;
  const bounded = Number.isFinite(toleranceMm);
  const [triangles] = MeshoptSimplifier.simplify(
    mesh.triangles,
    mesh.positions,
    3,
    Math.min(3 * target, mesh.triangles.length),
    bounded ? toleranceMm : 1,
    bounded ? ['ErrorAbsolute'] : [],
  );
  return subMesh({ positions: mesh.positions, triangles: Uint32Array.from(triangles) }, countUp(triangles.length / 3));
}

/** What collapses count as their error is a mean over a neighbourhood: the farthest point is about twice as far off. */
const meanShare = 0.55;

/** Above this the kernel's collapses take too long to be tried first. */
const heavy = 20_000;

function isClosed(mesh: TriMesh, context: RunContext): boolean {
  const check = inspectMesh(mesh, { skipSelfIntersections: true, brief: true }, context);
  return check.watertight && check.nonManifoldVertices === 0;
}

/**
 * Fewer triangles of a closed mesh within a tolerance. The result is tested exactly; where collapses made triangles
 * cross or the mesh open, finer tolerances are tried, and at last the mesh is left as it was.
 *
 * @param fewest go for the fewest triangles that keep within the tolerance, rather than for even ones
 */
export async function makeSimpler(
  mesh: TriMesh,
  toleranceMm: number,
  context: RunContext,
  fewest = false,
): Promise<TriMesh> {
  const kernelOf = (t: number) => () => kernelSimplify(mesh, t);
  const quick = (t: number) => () => simplifyTo(mesh, 0, t);
  const ways = fewest
    ? [quick(meanShare * toleranceMm), quick((meanShare * toleranceMm) / 2), kernelOf(toleranceMm)]
    : triangleCount(mesh) > heavy
      ? [quick(toleranceMm), quick(0.8 * toleranceMm), quick(toleranceMm / 2), kernelOf(toleranceMm / 2)]
      : [kernelOf(toleranceMm), quick(toleranceMm), kernelOf(toleranceMm / 5)];
  for (const way of ways) {
    context.checkCancelled();
    context.progress(0.3, 'Simplifying within tolerance');
    const simpler = await way().catch((error: unknown) => {
      // the kernel takes sound solids only
      if (isMeshError(error) && error.code === 'not-solid') return null;
      throw error;
    });
    if (!simpler || triangleCount(simpler) === 0) continue;
    // the few places where collapses pinched the mesh or made triangles cross are cut apart or taken out, and closed
    const scale = diagonalOf(simpler);
    const closed = healTears(simpler, scale, context);
    const settled = settleCrossings(closed, scale, context, 6);
    if (settled && isClosed(settled, context)) return settled;
  }
  return mesh;
}

/** Collapses by the solid kernel: slower, but never opens the mesh or folds a flat. */
const kernelSimplify = (mesh: TriMesh, toleranceMm: number): Promise<TriMesh> =>
  withSolids((kernel, keep) => fromSolid(keep(keep(toSolid(kernel, mesh)).simplify(toleranceMm))));
