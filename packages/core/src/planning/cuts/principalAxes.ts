import { cross, identity3, normalize, type Mat3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';

/**
 * Rows along the principal axes of a skin, the longest first: eigenvectors of the covariance of its area, exact however it
 * is cut into triangles (second moments of a triangle by its corners and its middle), by Jacobi's rotations. The model's own axes where there is no skin.
 */
export function principalAxes(positions: Float32Array, triangles: Uint32Array): Mat3 {
  let area = 0;
  let [mx, my, mz] = [0, 0, 0];
  // xx, xy, xz, yy, yz, zz about the first corner, moved to the mean afterwards
  let [xx, xy, xz, yy, yz, zz] = [0, 0, 0, 0, 0, 0];
  const [ox, oy, oz] = positions;
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 3 * triangles[i];
    const b = 3 * triangles[i + 1];
    const c = 3 * triangles[i + 2];
    const ax = positions[a] - ox;
    const ay = positions[a + 1] - oy;
    const az = positions[a + 2] - oz;
    const bx = positions[b] - ox;
    const by = positions[b + 1] - oy;
    const bz = positions[b + 2] - oz;
    const cx = positions[c] - ox;
    const cy = positions[c + 1] - oy;
    const cz = positions[c + 2] - oz;
    const nx = (by - ay) * (cz - az) - (bz - az) * (cy - ay);
    const ny = (bz - az) * (cx - ax) - (bx - ax) * (cz - az);
    const nz = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    const w = Math.sqrt(nx * nx + ny * ny + nz * nz);
    const x = (ax + bx + cx) / 3;
    const y = (ay + by + cy) / 3;
    const z = (az + bz + cz) / 3;
    area += w;
    mx += w * x;
    my += w * y;
    mz += w * z;
    xx += (w * (9 * x * x + ax * ax + bx * bx + cx * cx)) / 12;
    xy += (w * (9 * x * y + ax * ay + bx * by + cx * cy)) / 12;
    xz += (w * (9 * x * z + ax * az + bx * bz + cx * cz)) / 12;
    yy += (w * (9 * y * y + ay * ay + by * by + cy * cy)) / 12;
    yz += (w * (9 * y * z + ay * az + by * bz + cy * cz)) / 12;
    zz += (w * (9 * z * z + az * az + bz * bz + cz * cz)) / 12;
  }
  if (!(area > 0)) return identity3;
  xx -= (mx * mx) / area;
  xy -= (mx * my) / area;
  xz -= (mx * mz) / area;
  yy -= (my * my) / area;
  yz -= (my * mz) / area;
  zz -= (mz * mz) / area;
  const a = [xx, xy, xz, xy, yy, yz, xz, yz, zz];
  const v = [1, 0, 0, 0, 1, 0, 0, 0, 1];
  for (let sweep = 0; sweep < 24; sweep++)
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ]) {
      const off = a[3 * p + q];
      if (Math.abs(off) < 1e-14 * (a[0] + a[4] + a[8])) continue;
      const theta = (a[3 * q + q] - a[3 * p + p]) / (2 * off);
      const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
      const c = 1 / Math.sqrt(t * t + 1);
      const s = t * c;
      for (let k = 0; k < 3; k++) {
        const x = a[3 * k + p];
        const y = a[3 * k + q];
        a[3 * k + p] = c * x - s * y;
        a[3 * k + q] = s * x + c * y;
      }
      for (let k = 0; k < 3; k++) {
        const x = a[3 * p + k];
        const y = a[3 * q + k];
        a[3 * p + k] = c * x - s * y;
        a[3 * q + k] = s * x + c * y;
        const u = v[3 * k + p];
        const w = v[3 * k + q];
        v[3 * k + p] = c * u - s * w;
        v[3 * k + q] = s * u + c * w;
      }
    }
  const order = [0, 1, 2].sort((i, j) => a[4 * j] - a[4 * i]);
  const row = (i: number): Vec3 => normalize([v[i], v[3 + i], v[6 + i]]);
  const x = row(order[0]);
  const y = row(order[1]);
  return [x, y, cross(x, y)];
}
