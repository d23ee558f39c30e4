import type { Mat4 } from 'manifold-3d';
import { rotationToZ, transpose, type Mat3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';

const isAxis = (n: Vec3): number => n.findIndex((x, k) => x === 1 && n[(k + 1) % 3] === 0 && n[(k + 2) % 3] === 0);

/**
 * Rows of the rotation that turns a unit normal to z. For an axis the exchange of axes, so that no coordinate is
 * rounded; else the shortest turn.
 */
export function rowsToZ(normal: Vec3): Mat3 {
  const k = isAxis(normal);
  if (k < 0) return rotationToZ(normal);
  const row = (i: number): Vec3 => [0, 1, 2].map((c) => (c === (k + 1 + i) % 3 ? 1 : 0)) as unknown as Vec3;
  return [row(0), row(1), row(2)];
}

const columnMajor = (rows: Mat3): Mat4 => {
  const m = new Array<number>(16).fill(0);
  for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) m[4 * c + r] = rows[r][c];
  m[15] = 1;
  return m as unknown as Mat4;
};

/** Turns the normal of a cut to z. */
export const toZ = (normal: Vec3): Mat4 => columnMajor(rowsToZ(normal));
/** The way back from `toZ`. */
export const fromZ = (normal: Vec3): Mat4 => columnMajor(transpose(rowsToZ(normal)));
