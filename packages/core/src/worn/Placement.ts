import { applyMat3, transpose, type Mat3 } from '../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';

/** Where a body stands in a piece: turned about x, then y, then z (degrees), then moved (mm). */
export interface Placement {
  moveMm: readonly [number, number, number];
  turnDeg: readonly [number, number, number];
}

export const unplaced: Placement = { moveMm: [0, 0, 0], turnDeg: [0, 0, 0] };

/** Rows of the rotation of a placement. */
export function rotationOf({ turnDeg }: Placement): Mat3 {
  const [a, b, c] = turnDeg.map((d) => (d * Math.PI) / 180);
  const [sa, ca, sb, cb, sc, cc] = [Math.sin(a), Math.cos(a), Math.sin(b), Math.cos(b), Math.sin(c), Math.cos(c)];
  return [
    [cc * cb, cc * sb * sa - sc * ca, cc * sb * ca + sc * sa],
    [sc * cb, sc * sb * sa + cc * ca, sc * sb * ca - cc * sa],
    [-sb, cb * sa, cb * ca],
  ];
}

/** A point of the body, in the piece. */
export function placed(p: Placement, v: Vec3): Vec3 {
  const [x, y, z] = applyMat3(rotationOf(p), v);
  return [x + p.moveMm[0], y + p.moveMm[1], z + p.moveMm[2]];
}

/** A point of the piece, as the body sees it. */
export const seenFromBody = (p: Placement, v: Vec3): Vec3 =>
  applyMat3(transpose(rotationOf(p)), [v[0] - p.moveMm[0], v[1] - p.moveMm[1], v[2] - p.moveMm[2]]);

/** Vertices of a piece as the body sees them, with the piece scaled about a point of its own. */
export function piecePoints(piece: TriMesh, p: Placement, factor = 1, about: Vec3 = [0, 0, 0]): Float32Array {
  const rows = transpose(rotationOf(p));
  const q = piece.positions;
  const out = new Float32Array(q.length);
  const shift = [0, 1, 2].map((k) => about[k] - p.moveMm[k]);
  for (let i = 0; i < q.length; i += 3) {
    const x = factor * (q[i] - about[0]) + shift[0];
    const y = factor * (q[i + 1] - about[1]) + shift[1];
    const z = factor * (q[i + 2] - about[2]) + shift[2];
    for (let r = 0; r < 3; r++) out[i + r] = rows[r][0] * x + rows[r][1] * y + rows[r][2] * z;
  }
  return out;
}

/**
 * The placement that lays points of the body on points of the piece with the least sum of squared distances (Horn 1987,
 * by the eigenvector of the quaternion matrix), without scaling. One pair moves, two also turn about the shortest way.
 */
export function fromPairs(pairs: readonly { body: Vec3; piece: Vec3 }[]): {
  rows: Mat3;
  moveMm: Vec3;
  residualMm: number;
} {
  const n = pairs.length;
  const mean = (of: (p: { body: Vec3; piece: Vec3 }) => Vec3): number[] =>
    [0, 1, 2].map((k) => pairs.reduce((sum, p) => sum + of(p)[k], 0) / Math.max(1, n));
  const a = mean((p) => p.body);
  const b = mean((p) => p.piece);
  const s = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => pairs.reduce((sum, p) => sum + (p.body[i] - a[i]) * (p.piece[j] - b[j]), 0)),
  );
  const [[xx, xy, xz], [yx, yy, yz], [zx, zy, zz]] = s;
  const m = [
    [xx + yy + zz, yz - zy, zx - xz, xy - yx],
    [yz - zy, xx - yy - zz, xy + yx, zx + xz],
    [zx - xz, xy + yx, -xx + yy - zz, yz + zy],
    [xy - yx, zx + xz, yz + zy, -xx - yy + zz],
  ];
  // the largest eigenvalue, by powers of the matrix made positive
  const lift = Math.max(1e-12, ...m.map((row) => row.reduce((sum, v) => sum + Math.abs(v), 0)));
  let q = [1, 1e-3, 1e-3, 1e-3];
  for (let round = 0; round < 4000; round++) {
    const next = m.map((row, i) => row.reduce((sum, v, j) => sum + v * q[j], 0) + lift * q[i]);
    const length = Math.hypot(...next);
    const unit = next.map((v) => v / length);
    const change = Math.hypot(...unit.map((v, i) => v - q[i]));
    q = unit;
    if (change < 1e-15) break;
  }
  const [w, x, y, z] = n > 1 ? q : [1, 0, 0, 0];
  const rows: Mat3 = [
    [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
    [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
    [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
  ];
  const turned = applyMat3(rows, a as unknown as Vec3);
  const moveMm: Vec3 = [b[0] - turned[0], b[1] - turned[1], b[2] - turned[2]];
  const residual = pairs.reduce((sum, p) => {
    const t = applyMat3(rows, p.body);
    return sum + [0, 1, 2].reduce((d, k) => d + (t[k] + moveMm[k] - p.piece[k]) ** 2, 0);
  }, 0);
  return { rows, moveMm, residualMm: Math.sqrt(residual / Math.max(1, n)) };
}

/** Turns about x, y, z (degrees) that give a rotation. */
export function turnsOf(rows: Mat3): [number, number, number] {
  const deg = 180 / Math.PI;
  const b = Math.asin(Math.min(1, Math.max(-1, -rows[2][0])));
  if (Math.abs(rows[2][0]) > 1 - 1e-9) return [Math.atan2(-rows[1][2], rows[1][1]) * deg, b * deg, 0];
  return [Math.atan2(rows[2][1], rows[2][2]) * deg, b * deg, Math.atan2(rows[1][0], rows[0][0]) * deg];
}
