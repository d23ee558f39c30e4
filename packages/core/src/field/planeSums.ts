/*
 * Sums over points with planes through them, from which comes the point where the planes meet in the sense of least
 * squares (Ju et al. 2002). Kept in one array, `sumsOf` numbers each, in cells from the lower corner of the cell:
 *
 * 0-5   n n' (xx, xy, xz, yy, yz, zz)
 * 6-8   n (n . p)
 * 9-11  p
 * 12    how many points
 * 13    (n . p) squared
 */
export const sumsOf = 14;

/** Adds the sums at `o`, seen from a corner that lies (x, y, z) below their own. */
export function addSums(total: Float64Array, s: Float32Array, o: number, x: number, y: number, z: number): void {
  const ax = s[o] * x + s[o + 1] * y + s[o + 2] * z;
  const ay = s[o + 1] * x + s[o + 3] * y + s[o + 4] * z;
  const az = s[o + 2] * x + s[o + 4] * y + s[o + 5] * z;
  const n = s[o + 12];
  for (let i = 0; i < 13; i++) total[i] += s[o + i];
  total[13] += s[o + 13] + 2 * (s[o + 6] * x + s[o + 7] * y + s[o + 8] * z) + ax * x + ay * y + az * z;
  total[6] += ax;
  total[7] += ay;
  total[8] += az;
  total[9] += n * x;
  total[10] += n * y;
  total[11] += n * z;
}

/** Root mean square distance of a point from the planes, in cells. */
export function distanceToPlanes(s: Float64Array, at: Float64Array): number {
  const [x, y, z] = at;
  const square =
    s[0] * x * x +
    s[3] * y * y +
    s[5] * z * z +
    2 * (s[1] * x * y + s[2] * x * z + s[4] * y * z) -
    2 * (s[6] * x + s[7] * y + s[8] * z) +
    s[13];
  return Math.sqrt(Math.max(0, square) / s[12]);
}

/** Where the planes meet, held lightly at the middle of their points and within a cube of `size` cells; fills `out`. */
export function placeInPlanes(s: Float32Array | Float64Array, o: number, size: number, out: Float64Array): void {
  const n = s[o + 12];
  const mx = s[o + 9] / n;
  const my = s[o + 10] / n;
  const mz = s[o + 11] / n;
  const hold = 0.003 * n;
  const a = s[o] + hold;
  const b = s[o + 1];
  const c = s[o + 2];
  const d = s[o + 3] + hold;
  const e = s[o + 4];
  const f = s[o + 5] + hold;
  const rx = s[o + 6] - (s[o] * mx + b * my + c * mz);
  const ry = s[o + 7] - (b * mx + s[o + 3] * my + e * mz);
  const rz = s[o + 8] - (c * mx + e * my + s[o + 5] * mz);
  const A = d * f - e * e;
  const B = c * e - b * f;
  const C = b * e - c * d;
  const det = a * A + b * B + c * C;
  const x = mx + (A * rx + B * ry + C * rz) / det;
  const y = my + (B * rx + (a * f - c * c) * ry + (b * c - a * e) * rz) / det;
  const z = mz + (C * rx + (b * c - a * e) * ry + (a * d - b * b) * rz) / det;
  const rim = 0.005;
  out[0] = Math.min(size - rim, Math.max(rim, x));
  out[1] = Math.min(size - rim, Math.max(rim, y));
  out[2] = Math.min(size - rim, Math.max(rim, z));
}
