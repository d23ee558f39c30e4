import { boundsOf, type TriMesh, type Vec3 } from './TriMesh.ts';

/** Surface area, mm2. */
export function areaOf(mesh: TriMesh): number {
  const { positions: p, triangles: t } = mesh;
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) sum += triangleArea(p, t[i], t[i + 1], t[i + 2]);
  return sum;
}

/** Area of the triangle over vertices a, b, c of `p`, mm2. */
export function triangleArea(p: Float32Array, a: number, b: number, c: number): number {
  const ax = p[3 * a];
  const ay = p[3 * a + 1];
  const az = p[3 * a + 2];
  const ux = p[3 * b] - ax;
  const uy = p[3 * b + 1] - ay;
  const uz = p[3 * b + 2] - az;
  const vx = p[3 * c] - ax;
  const vy = p[3 * c + 1] - ay;
  const vz = p[3 * c + 2] - az;
  const x = uy * vz - uz * vy;
  const y = uz * vx - ux * vz;
  const z = ux * vy - uy * vx;
  return 0.5 * Math.sqrt(x * x + y * y + z * z);
}

/**
 * The cross product of two sides of each triangle: along its normal, twice its area long.
 *
 * @returns x, y, z a triangle, packed, mm2
 */
export function crossesOf({ positions: p, triangles }: TriMesh): Float32Array {
  const crosses = new Float32Array(triangles.length);
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 3 * triangles[i];
    const b = 3 * triangles[i + 1];
    const c = 3 * triangles[i + 2];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    crosses[i] = uy * vz - uz * vy;
    crosses[i + 1] = uz * vx - ux * vz;
    crosses[i + 2] = ux * vy - uy * vx;
  }
  return crosses;
}

/** Unit normal of each triangle, x, y, z; zeros where it has no area. */
export function unitNormalsOf(mesh: TriMesh): Float32Array {
  const normals = crossesOf(mesh);
  for (let i = 0; i < normals.length; i += 3) {
    const twice = Math.hypot(normals[i], normals[i + 1], normals[i + 2]);
    if (twice > 0) for (let x = 0; x < 3; x++) normals[i + x] /= twice;
  }
  return normals;
}

/**
 * At each vertex the sum of the normals around it, each by its angle there, so that it does not matter how flats are cut into
 * triangles (Baerentzen and Aanaes 2005); x, y, z, not of unit length.
 */
export function cornerNormals({ positions: p, triangles }: TriMesh, normals: ArrayLike<number>): Float32Array {
  const corners = new Float32Array(p.length);
  for (let i = 0; i < triangles.length; i += 3) {
    if (normals[i] === 0 && normals[i + 1] === 0 && normals[i + 2] === 0) continue;
    for (let k = 0; k < 3; k++) {
      const a = 3 * triangles[i + k];
      const b = 3 * triangles[i + ((k + 1) % 3)];
      const c = 3 * triangles[i + ((k + 2) % 3)];
      const ux = p[b] - p[a];
      const uy = p[b + 1] - p[a + 1];
      const uz = p[b + 2] - p[a + 2];
      const vx = p[c] - p[a];
      const vy = p[c + 1] - p[a + 1];
      const vz = p[c + 2] - p[a + 2];
      const twice = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
      const angle = Math.atan2(twice, ux * vx + uy * vy + uz * vz);
      for (let x = 0; x < 3; x++) corners[a + x] += angle * normals[i + x];
    }
  }
  return corners;
}

/** Middle of the flesh of a closed skin, mm; of its corners' box where it holds nothing. */
export function centreOf({ positions: p, triangles: t }: TriMesh): Vec3 {
  let volume = 0;
  const sum: [number, number, number] = [0, 0, 0];
  const [ox, oy, oz] = [p[0] ?? 0, p[1] ?? 0, p[2] ?? 0];
  for (let i = 0; i < t.length; i += 3) {
    const a = 3 * t[i];
    const b = 3 * t[i + 1];
    const c = 3 * t[i + 2];
    const ax = p[a] - ox;
    const ay = p[a + 1] - oy;
    const az = p[a + 2] - oz;
    const bx = p[b] - ox;
    const by = p[b + 1] - oy;
    const bz = p[b + 2] - oz;
    const cx = p[c] - ox;
    const cy = p[c + 1] - oy;
    const cz = p[c + 2] - oz;
    const v = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    volume += v;
    sum[0] += v * (ax + bx + cx);
    sum[1] += v * (ay + by + cy);
    sum[2] += v * (az + bz + cz);
  }
  if (!(Math.abs(volume) > 1e-9)) {
    const { min, max } = boundsOf({ positions: p, triangles: t });
    return [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  }
  return [ox + sum[0] / (4 * volume), oy + sum[1] / (4 * volume), oz + sum[2] / (4 * volume)];
}

/** Unit normal of triangle `t`, or zeros where it has no area. */
export function triangleNormal(mesh: TriMesh, t: number): [number, number, number] {
  const { positions: p, triangles } = mesh;
  const a = 3 * triangles[3 * t];
  const b = 3 * triangles[3 * t + 1];
  const c = 3 * triangles[3 * t + 2];
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a];
  const vy = p[c + 1] - p[a + 1];
  const vz = p[c + 2] - p[a + 2];
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const length = Math.hypot(nx, ny, nz);
  return length > 0 ? [nx / length, ny / length, nz / length] : [0, 0, 0];
}

/**
 * Signed volume by the divergence theorem, mm3: positive when triangles face outward. Only of meaning for a closed
 * mesh. Taken about the middle of the bounds, so that a small part far from the origin keeps its digits.
 */
export function volumeOf(mesh: TriMesh): number {
  const { positions: p, triangles: t } = mesh;
  const { min, max } = boundsOf(mesh);
  const cx = (min[0] + max[0]) / 2;
  const cy = (min[1] + max[1]) / 2;
  const cz = (min[2] + max[2]) / 2;
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const a = 3 * t[i];
    const b = 3 * t[i + 1];
    const c = 3 * t[i + 2];
    const ax = p[a] - cx;
    const ay = p[a + 1] - cy;
    const az = p[a + 2] - cz;
    const bx = p[b] - cx;
    const by = p[b + 1] - cy;
    const bz = p[b + 2] - cz;
    const dx = p[c] - cx;
    const dy = p[c + 1] - cy;
    const dz = p[c + 2] - cz;
    sum += ax * (by * dz - bz * dy) + ay * (bz * dx - bx * dz) + az * (bx * dy - by * dx);
  }
  return sum / 6;
}

/** Middle of triangle `t`, mm. */
export function triangleCentre(mesh: TriMesh, t: number): Vec3 {
  const { positions: p, triangles } = mesh;
  const a = 3 * triangles[3 * t];
  const b = 3 * triangles[3 * t + 1];
  const c = 3 * triangles[3 * t + 2];
  return [(p[a] + p[b] + p[c]) / 3, (p[a + 1] + p[b + 1] + p[c + 1]) / 3, (p[a + 2] + p[b + 2] + p[c + 2]) / 3];
}
