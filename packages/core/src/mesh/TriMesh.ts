import { oncePerMesh } from './oncePerMesh.ts';

/**
 * An indexed triangle mesh in millimetres. Immutable by agreement: operations return new meshes.
 *
 * Layout: `positions` holds x, y, z per vertex (3 V floats); `triangles` holds three vertex indices per
 * triangle (3 T integers), counter-clockwise seen from outside. Half-edge `h = 3 t + k` runs from corner k
 * of triangle t to corner (k + 1) % 3.
 */
export interface TriMesh {
  readonly positions: Float32Array;
  readonly triangles: Uint32Array;
}

/** A point or direction, mm or unitless. */
export type Vec3 = readonly [number, number, number];

/** Three numbers as params, views and forms hold them. */
export type Triple = [number, number, number];

export interface Box3 {
  min: Vec3;
  max: Vec3;
}

export interface Xyz {
  x: number;
  y: number;
  z: number;
}

export const vertexCount = (mesh: TriMesh): number => mesh.positions.length / 3;
export const triangleCount = (mesh: TriMesh): number => mesh.triangles.length / 3;
export const xyz = (v: Vec3): Xyz => ({ x: v[0], y: v[1], z: v[2] });

/** Half-edge after `h` in its triangle. */
export const nextHalfEdge = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);

/** Axis-aligned bounds over the vertices that triangles use, in mm; worked out once. An empty mesh gives zeros. */
export const boundsOf = oncePerMesh(measureBounds);

function measureBounds(mesh: TriMesh): Box3 {
  const { positions, triangles } = mesh;
  if (triangles.length === 0) return { min: [0, 0, 0], max: [0, 0, 0] };
  // all vertices of a welded mesh are used, and they are fewer
  return boundsOfPoints(positions, welded.has(mesh) ? null : triangles);
}

/** Axis-aligned bounds of points, or of some of them by number; at least one, mm. */
export function boundsOfPoints(positions: Float32Array, some: Uint32Array | null = null): Box3 {
  let x0 = Infinity;
  let y0 = Infinity;
  let z0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  let z1 = -Infinity;
  const n = some ? some.length : positions.length / 3;
  for (let i = 0; i < n; i++) {
    const v = 3 * (some ? some[i] : i);
    const x = positions[v];
    const y = positions[v + 1];
    const z = positions[v + 2];
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  return { min: [x0, y0, z0], max: [x1, y1, z1] };
}

export const sizeOf = (box: Box3): Vec3 => [box.max[0] - box.min[0], box.max[1] - box.min[1], box.max[2] - box.min[2]];

/** Length of the bounding box's diagonal, mm: the scale by which relative tolerances are set. */
export const diagonalOf = (mesh: TriMesh): number => Math.hypot(...sizeOf(boundsOf(mesh)));

const welded = new WeakSet<TriMesh>();

/** Has a mesh no two vertices in one place, none that nothing uses, and no -0? Known of meshes that were made so. */
export const isWelded = (mesh: TriMesh): boolean => welded.has(mesh);

export function noteWelded(mesh: TriMesh): TriMesh {
  welded.add(mesh);
  return mesh;
}

/** The triangles of `mesh` listed in `keep`, with unused vertices dropped and the order of vertices kept. */
export function subMesh(mesh: TriMesh, keep: ArrayLike<number>): TriMesh {
  const remap = new Int32Array(vertexCount(mesh)).fill(-1);
  const triangles = new Uint32Array(keep.length * 3);
  for (let i = 0; i < keep.length; i++)
    for (let k = 0; k < 3; k++) {
      const v = mesh.triangles[3 * keep[i] + k];
      remap[v] = 0;
      triangles[3 * i + k] = v;
    }
  let used = 0;
  for (let v = 0; v < remap.length; v++) if (remap[v] === 0) remap[v] = used++;
  const positions = new Float32Array(used * 3);
  for (let v = 0; v < remap.length; v++)
    if (remap[v] >= 0) for (let k = 0; k < 3; k++) positions[3 * remap[v] + k] = mesh.positions[3 * v + k];
  for (let i = 0; i < triangles.length; i++) triangles[i] = remap[triangles[i]];
  const part = { positions, triangles };
  return isWelded(mesh) ? noteWelded(part) : part;
}

/** The numbers 0 to n - 1. */
export function countUp(n: number): Uint32Array<ArrayBuffer> {
  const out = new Uint32Array(n);
  for (let i = 0; i < n; i++) out[i] = i;
  return out;
}

/** All meshes side by side in one, without joining anything; one alone comes back as it is. */
export function concatMeshes(parts: readonly TriMesh[]): TriMesh {
  const meshes = parts.filter((m) => m.triangles.length > 0);
  if (meshes.length === 1) return meshes[0];
  const positions = new Float32Array(meshes.reduce((n, m) => n + m.positions.length, 0));
  const triangles = new Uint32Array(meshes.reduce((n, m) => n + m.triangles.length, 0));
  let p = 0;
  let t = 0;
  for (const mesh of meshes) {
    positions.set(mesh.positions, p);
    const base = p / 3;
    for (let i = 0; i < mesh.triangles.length; i++) triangles[t + i] = mesh.triangles[i] + base;
    p += mesh.positions.length;
    t += mesh.triangles.length;
  }
  return { positions, triangles };
}

/** The same surface seen from inside: every triangle turned over. */
export function flipMesh(mesh: TriMesh): TriMesh {
  const triangles = new Uint32Array(mesh.triangles.length);
  for (let i = 0; i < triangles.length; i += 3) {
    triangles[i] = mesh.triangles[i];
    triangles[i + 1] = mesh.triangles[i + 2];
    triangles[i + 2] = mesh.triangles[i + 1];
  }
  return { positions: mesh.positions, triangles };
}
