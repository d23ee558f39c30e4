import { MeshoptSimplifier } from 'meshoptimizer/simplifier';
import type { RunContext } from '../run/context.ts';
import { inspectMesh } from '../inspect/inspect.ts';
import { isMeshError } from '../run/MeshError.ts';
import { areaOf } from '../mesh/measures.ts';
import { diagonalOf, subMesh, triangleCount, type TriMesh, countUp } from '../mesh/TriMesh.ts';
import { fromSolid, toSolid, withSolids } from '../solid/kernel.ts';
import { healTears, settleCrossings } from './settleCrossings.ts';

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
      ? []
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
  // in the end the places that do not come out well are left as they are
  return simplifyAround(mesh, toleranceMm, context);
}

/** How often places that came out badly are left alone and the rest collapsed anew. */
const roundsAround = 5;

/**
 * Collapses edges everywhere but where that makes triangles cross or the mesh open: there the old triangles stay, in a
 * neighbourhood that grows from round to round. The old mesh is free of crossings, so this comes to an end, at worst
 * with the old mesh; each round costs the collapses and one test, so the whole is bounded by a few times that.
 *
 * @param mesh closed and free of crossings
 */
async function simplifyAround(mesh: TriMesh, toleranceMm: number, context: RunContext): Promise<TriMesh> {
  await MeshoptSimplifier.ready;
  const { positions } = mesh;
  const locked = new Uint8Array(positions.length / 3);
  const none = new Float32Array(0);
  for (let round = 0; round < roundsAround; round++) {
    context.checkCancelled();
    context.progress(round / roundsAround, 'Simplifying within tolerance');
    const [triangles] = MeshoptSimplifier.simplifyWithAttributes(
      mesh.triangles,
      positions,
      3,
      none,
      0,
      [],
      round > 0 ? locked : null,
      0,
      toleranceMm,
      ['ErrorAbsolute'],
    );
    const simpler = subMesh({ positions, triangles: Uint32Array.from(triangles) }, countUp(triangles.length / 3));
    const scale = diagonalOf(simpler);
    let left: number[] = [];
    const settled = settleCrossings(healTears(simpler, scale, context), scale, context, 4, undefined, (corners) => {
      left = corners;
    });
    if (settled && isClosed(settled, context)) return settled;
    if (left.length === 0) return mesh;
    lockAround(mesh, left, 2 + 2 * round, locked);
  }
  return mesh;
}

/**
 * Marks the vertices of a mesh in and around the boxes of triangles, by a grid of cubes.
 *
 * @param corners nine numbers a triangle
 * @param rings how many cubes around them, each about two edges of the mesh wide
 */
function lockAround(mesh: TriMesh, corners: number[], rings: number, locked: Uint8Array): void {
  const { positions: p } = mesh;
  // the triangles of an extracted level are alike, so an edge is about as long as any other
  const cell = 2 * Math.sqrt((2 * areaOf(mesh)) / triangleCount(mesh));
  const cubes = new Set<string>();
  for (let i = 0; i < corners.length; i += 9) {
    const reach = [0, 1, 2].map((c) => [corners[i + c], corners[i + 3 + c], corners[i + 6 + c]]);
    const [x0, y0, z0] = reach.map((r) => Math.floor(Math.min(...r) / cell) - rings);
    const [x1, y1, z1] = reach.map((r) => Math.floor(Math.max(...r) / cell) + rings);
    // a box that large holds a long triangle of a flat: what is at its corners will do
    if ((x1 - x0 + 1) * (y1 - y0 + 1) * (z1 - z0 + 1) > mostCubes) {
      for (let k = 0; k < 9; k += 3) cubes.add([0, 1, 2].map((c) => Math.floor(corners[i + k + c] / cell)).join());
      continue;
    }
    for (let z = z0; z <= z1; z++)
      for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) cubes.add(`${x},${y},${z}`);
  }
  for (let v = 0; v < locked.length; v++)
    if (
      cubes.has(`${Math.floor(p[3 * v] / cell)},${Math.floor(p[3 * v + 1] / cell)},${Math.floor(p[3 * v + 2] / cell)}`)
    )
      locked[v] = 1;
}

/** Boxes of more cubes than this are not locked whole. */
const mostCubes = 200_000;

/** Collapses by the solid kernel: slower, but never opens the mesh or folds a flat. */
const kernelSimplify = (mesh: TriMesh, toleranceMm: number): Promise<TriMesh> =>
  withSolids((kernel, keep) => fromSolid(keep(keep(toSolid(kernel, mesh)).simplify(toleranceMm))));
