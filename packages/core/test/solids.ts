import { quietContext } from '@jasmorphe/core/run/context';
import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { normalize, placeMesh, rotationToZ } from '@jasmorphe/core/mesh/transform';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import type { Operation } from '@jasmorphe/core/operations/Operation';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';

/** An axis-aligned box from the origin. */
export const box = async (x: number, y: number, z: number): Promise<TriMesh> =>
  fromSolid((await loadKernel()).Manifold.cube([x, y, z]));

export const sphere = async (radius: number, segments: number): Promise<TriMesh> =>
  fromSolid((await loadKernel()).Manifold.sphere(radius, segments));

/** A torus as a plain grid of quads cut in two, facing out. */
export function torus(big: number, small: number, n: number, m: number): TriMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const a = (2 * Math.PI * i) / n;
      const b = (2 * Math.PI * j) / m;
      positions.push(
        (big + small * Math.cos(b)) * Math.cos(a),
        (big + small * Math.cos(b)) * Math.sin(a),
        small * Math.sin(b),
      );
      const p = i * m + j;
      const q = ((i + 1) % n) * m + j;
      const r = ((i + 1) % n) * m + ((j + 1) % m);
      const s = i * m + ((j + 1) % m);
      triangles.push(p, q, r, p, r, s);
    }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

/** Moves a mesh. */
export function moved(mesh: TriMesh, x: number, y: number, z: number): TriMesh {
  const d = [x, y, z];
  return { positions: mesh.positions.map((v, i) => v + d[i % 3]), triangles: mesh.triangles };
}

/** Without the triangles whose number is listed. */
export function without(mesh: TriMesh, gone: Set<number>): TriMesh {
  return { positions: mesh.positions, triangles: mesh.triangles.filter((_, i) => !gone.has(Math.floor(i / 3))) };
}

export const run = <P extends object, R>(operation: Operation<P, R>, mesh: TriMesh, params: unknown) =>
  operation.run([mesh], parseParams(operation.params, params), quietContext);

/** The code of the MeshError that `work` throws. */
export async function codeOf(work: () => unknown): Promise<string> {
  try {
    await work();
  } catch (error) {
    return (error as { code?: string }).code ?? `not a MeshError: ${String(error)}`;
  }
  return 'nothing thrown';
}

/** Turned about no axis in particular, so that nothing lies along one. */
export function turned(mesh: TriMesh): TriMesh {
  const r = rotationToZ(normalize([0.3, -0.5, 0.8]));
  return placeMesh(mesh, r);
}

/** A column with an arm, from whose end a peg hangs down into the air. */
export async function hook(): Promise<TriMesh> {
  const M = (await loadKernel()).Manifold;
  return fromSolid(
    M.union([
      M.cube([10, 10, 60]),
      M.cube([40, 10, 10]).translate([0, 0, 50]),
      M.cube([6, 6, 30]).translate([30, 2, 25]),
    ]),
  );
}
