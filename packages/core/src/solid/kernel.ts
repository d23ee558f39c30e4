import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import { MeshError } from '../run/MeshError.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { weldExact } from '../mesh/weld.ts';

export type Solid = Manifold;
export type Kernel = ManifoldToplevel;

let loading: Promise<Kernel> | undefined;

let loaded: Kernel | undefined;

/** The kernel that is there already, as it is wherever there is a solid. */
export const kernelNow = (): Kernel => loaded!;

/** The solid kernel (manifold-3d, WebAssembly), loaded once a thread. */
export function loadKernel(): Promise<Kernel> {
  loading ??= import('manifold-3d')
    .then(({ default: Module }) => Module())
    .then((kernel) => {
      kernel.setup();
      loaded = kernel;
      return kernel;
    });
  return loading;
}

/**
 * Lets the kernel go: its memory grows to what the largest solid needed and never shrinks. The next that needs one loads it anew.
 * Only between runs, when nobody holds a solid.
 *
 * @returns whether there was one
 */
export function dropKernel(): boolean {
  const there = loading !== undefined;
  loading = loaded = undefined;
  return there;
}

/**
 * Gives a closed, oriented mesh to the kernel. Free it with `delete()`, or make it inside `withSolids`.
 *
 * @throws MeshError `not-solid` with the kernel's own status
 */
export function toSolid(kernel: Kernel, mesh: TriMesh): Solid {
  let status: string;
  try {
    const solid = new kernel.Manifold(
      new kernel.Mesh({ numProp: 3, vertProperties: mesh.positions, triVerts: mesh.triangles }),
    );
    status = solid.status();
    if (status === 'NoError' && (!solid.isEmpty() || mesh.triangles.length === 0)) return solid;
    solid.delete();
  } catch (error) {
    status = error instanceof Error ? error.message : String(error);
  }
  throw new MeshError(
    'not-solid',
    `The mesh is not a solid: ${statusWords[status] ?? status}.`,
    'Mend it first; the findings say what is wrong and where.',
  );
}

const statusWords: Record<string, string> = {
  NotManifold: 'an edge does not have exactly one triangle on each side',
  NonFiniteVertex: 'a coordinate is not a finite number',
  NoError: 'nothing is left of it',
};

/** The kernel's result as a mesh, vertices merged. */
export function fromSolid(solid: Solid): TriMesh {
  const mesh = solid.getMesh();
  const props = mesh.numProp;
  const n = mesh.vertProperties.length / props;
  const positions = new Float32Array(3 * n);
  for (let v = 0; v < n; v++) for (let k = 0; k < 3; k++) positions[3 * v + k] = mesh.vertProperties[v * props + k];
  const triangles = Uint32Array.from(mesh.triVerts);
  const from = mesh.mergeFromVert;
  const to = mesh.mergeToVert;
  if (from && to && from.length > 0) {
    const remap = new Uint32Array(n);
    for (let v = 0; v < n; v++) remap[v] = v;
    for (let i = 0; i < from.length; i++) remap[from[i]] = to[i];
    for (let i = 0; i < triangles.length; i++) triangles[i] = remap[triangles[i]];
  }
  return dropUnused({ positions, triangles });
}

function dropUnused(mesh: TriMesh): TriMesh {
  const remap = new Int32Array(mesh.positions.length / 3).fill(-1);
  let used = 0;
  const triangles = new Uint32Array(mesh.triangles.length);
  for (let i = 0; i < triangles.length; i++) {
    const v = mesh.triangles[i];
    if (remap[v] < 0) remap[v] = used++;
    triangles[i] = remap[v];
  }
  const positions = new Float32Array(3 * used);
  for (let v = 0; v < remap.length; v++)
    if (remap[v] >= 0) for (let k = 0; k < 3; k++) positions[3 * remap[v] + k] = mesh.positions[3 * v + k];
  return { positions, triangles };
}

/** Runs `body` and then frees every solid it passed through `keep`, whatever happens. */
export async function withSolids<T>(
  body: (kernel: Kernel, keep: <S extends { delete(): void }>(solid: S) => S) => T | Promise<T>,
): Promise<T> {
  const kernel = await loadKernel();
  const kept = new Set<{ delete(): void }>();
  try {
    return await body(kernel, (solid) => {
      kept.add(solid);
      return solid;
    });
  } catch (error) {
    if (error instanceof WebAssembly.RuntimeError || error instanceof RangeError)
      throw new MeshError(
        'cannot',
        'The solid kernel ran out of memory on this mesh.',
        'Simplify the mesh, or divide it first.',
      );
    throw error;
  } finally {
    for (const solid of kept) solid.delete();
  }
}

/** The two sides of a solid at the plane n . p = offset: [where n . p > offset, the rest]. Cut faces are closed. */
export function splitByPlane(solid: Solid, normal: Vec3, offset: number): [Solid, Solid] {
  return solid.splitByPlane([normal[0], normal[1], normal[2]], offset);
}

/** The convex hull of a mesh; null where its corners lie in a plane. */
export async function hullOf(mesh: TriMesh): Promise<TriMesh | null> {
  return withSolids((kernel, keep) => {
    const points: [number, number, number][] = [];
    const { positions: p } = weldExact(mesh);
    for (let i = 0; i < p.length; i += 3) points.push([p[i], p[i + 1], p[i + 2]]);
    const hull = keep(kernel.Manifold.hull(points));
    return hull.isEmpty() ? null : fromSolid(hull);
  });
}

/** Vertices of the convex hull of a mesh, x, y, z each. */
export const hullPoints = async (mesh: TriMesh): Promise<Float32Array> =>
  (await hullOf(mesh))?.positions ?? weldExact(mesh).positions.slice();
