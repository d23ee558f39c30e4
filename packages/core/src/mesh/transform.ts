import { type TriMesh, type Vec3, flipMesh } from './TriMesh.ts';

/** Rows of a 3 x 3 matrix: `out = rows . in`. */
export type Mat3 = readonly [Vec3, Vec3, Vec3];

export const identity3: Mat3 = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** The vector whose coordinate k is `of(k)`. */
export const vec3 = (of: (k: number) => number): Vec3 => [of(0), of(1), of(2)];

export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export function normalize(v: Vec3): Vec3 {
  const length = Math.hypot(v[0], v[1], v[2]);
  return length > 0 ? [v[0] / length, v[1] / length, v[2] / length] : [0, 0, 1];
}

/** Scales each axis by its factor about the origin; a mirrored result is turned right side out again. */
export function scaleMesh(mesh: TriMesh, factor: Vec3): TriMesh {
  const positions = new Float32Array(mesh.positions.length);
  for (let i = 0; i < positions.length; i++) positions[i] = mesh.positions[i] * factor[i % 3];
  const scaled = { positions, triangles: mesh.triangles };
  return factor[0] * factor[1] * factor[2] < 0 ? flipMesh(scaled) : scaled;
}

/** `rows . p + shift` for every vertex. `rows` must be a rotation. */
export function placeMesh(mesh: TriMesh, rows: Mat3, shift: Vec3 = [0, 0, 0]): TriMesh {
  const p = mesh.positions;
  const positions = new Float32Array(p.length);
  for (let i = 0; i < p.length; i += 3)
    for (let r = 0; r < 3; r++)
      positions[i + r] = rows[r][0] * p[i] + rows[r][1] * p[i + 1] + rows[r][2] * p[i + 2] + shift[r];
  return { positions, triangles: mesh.triangles };
}

/** The rotation that turns the unit vector `up` to +z by the shortest way. */
export function rotationToZ(up: Vec3): Mat3 {
  const [x, y, z] = normalize(up);
  if (z > 1 - 1e-12) return identity3;
  if (z < -1 + 1e-12)
    return [
      [1, 0, 0],
      [0, -1, 0],
      [0, 0, -1],
    ];
  const k = 1 / (1 + z);
  return [
    [1 - x * x * k, -x * y * k, -x],
    [-x * y * k, 1 - y * y * k, -y],
    [x, y, z],
  ];
}

export const transpose = (m: Mat3): Mat3 => [
  [m[0][0], m[1][0], m[2][0]],
  [m[0][1], m[1][1], m[2][1]],
  [m[0][2], m[1][2], m[2][2]],
];

export const applyMat3 = (m: Mat3, v: Vec3): Vec3 => [dot(m[0], v), dot(m[1], v), dot(m[2], v)];
