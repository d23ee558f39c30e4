import { crossesOf, triangleArea } from '../mesh/measures.ts';
import { PointTable } from '../mesh/PointTable.ts';
import { dot, normalize, placeMesh, rotationToZ, type Mat3 } from '../mesh/transform.ts';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import { hullPoints } from '../solid/kernel.ts';
import { enough, flatFit, multiply, posePoints } from './bedFit.ts';

/** How a part lies on the bed. */
export interface PartPose {
  fits: boolean;
  /** rows of the rotation: `out = rows . in`; the last row is what is up, in the model's axes */
  rotation: number[][];
  /** height in that pose, mm */
  heightMm: number;
  /** area of the flat that it lies on, mm²; 0 where it lies on an edge, a corner or a round */
  footMm2: number;
}

/** Flats looked at as a foot, largest first. */
const mostFlats = 24;
/** A flat counts as lying on the bed when all of the part is above it but for this, mm. */
const flatSlackMm = 0.02;
/** A flat is a foot when it has at least this share of the hull's largest flat, so that slivers do not hold parts up. */
const leastShare = 0.02;

export interface Flat {
  normal: Vec3;
  areaMm2: number;
}

/** Steps of a normal's component by which planes are told apart. */
const normalSteps = 200;
/** Planes told apart at most: a skin with more has no flats worth looking for among the rest. */
const mostPlanes = 200_000;

/** Planes that hold most of the skin's area, by normal and offset; one entry a plane, largest first. */
export function flatsOf(mesh: TriMesh): Flat[] {
  const { positions: p, triangles: t } = mesh;
  const crosses = crossesOf(mesh);
  const grain = 4 * Math.max(flatSlackMm, 1e-4 * Math.max(...sizeOf(boundsOf(mesh))));
  const planes = new PointTable(1024);
  let sums = new Float64Array(4 * 1024);
  let count = 0;
  const key = new Float32Array(3);
  for (let i = 0; i < t.length; i += 3) {
    const a = 3 * t[i];
    const x = crosses[i];
    const y = crosses[i + 1];
    const z = crosses[i + 2];
    const twice = Math.sqrt(x * x + y * y + z * z);
    if (!(twice > 0)) continue;
    // whole numbers below 2^24, which float32 holds exactly
    key[0] = Math.round((normalSteps * x) / twice) * (2 * normalSteps + 1) + Math.round((normalSteps * y) / twice);
    key[1] = Math.round((normalSteps * z) / twice);
    key[2] = Math.round((x * p[a] + y * p[a + 1] + z * p[a + 2]) / twice / grain);
    const plane = count < mostPlanes ? planes.add(key, 0) : planes.find(key, 0);
    if (plane < 0) continue;
    if (plane === count && 4 * ++count > sums.length) {
      const more = new Float64Array(2 * sums.length);
      more.set(sums);
      sums = more;
    }
    sums[4 * plane] += x;
    sums[4 * plane + 1] += y;
    sums[4 * plane + 2] += z;
    sums[4 * plane + 3] += twice / 2;
  }
  return Array.from({ length: count }, (_, i) => i)
    .sort((a, b) => sums[4 * b + 3] - sums[4 * a + 3])
    .slice(0, 4 * mostFlats)
    .map((i) => ({ normal: normalize([sums[4 * i], sums[4 * i + 1], sums[4 * i + 2]]), areaMm2: sums[4 * i + 3] }));
}

/** How far points reach along a direction. */
export const reachAlong = (points: Float32Array, up: Vec3): { lo: number; hi: number } => {
  let lo = Infinity;
  let hi = -Infinity;
  for (let i = 0; i < points.length; i += 3) {
    const h = up[0] * points[i] + up[1] * points[i + 1] + up[2] * points[i + 2];
    if (h < lo) lo = h;
    if (h > hi) hi = h;
  }
  return { lo, hi };
};

/** Area of the skin that faces straight down within the slack above the lowest point, mm². */
function footArea(mesh: TriMesh, up: Vec3, lo: number): number {
  const { positions: p, triangles: t } = mesh;
  let area = 0;
  for (let i = 0; i < t.length; i += 3) {
    let low = true;
    for (let k = 0; k < 3 && low; k++) {
      const v = 3 * t[i + k];
      low = up[0] * p[v] + up[1] * p[v + 1] + up[2] * p[v + 2] < lo + flatSlackMm;
    }
    if (!low) continue;
    area += triangleArea(p, t[i], t[i + 1], t[i + 2]);
  }
  return area;
}

/** A flat that a part can stand on: what is up then, how far the part reaches along that, and the area of the flat, mm². */
export interface Rest {
  up: Vec3;
  lo: number;
  hi: number;
  foot: number;
}

/** Flats of a mesh with all of it on one side, each once. @param points corners of its hull */
export function restsOf(mesh: TriMesh, points: Float32Array): Rest[] {
  const rests: Rest[] = [];
  for (const { normal } of flatsOf(mesh)) {
    const up: Vec3 = [-normal[0], -normal[1], -normal[2]];
    if (rests.some((f) => dot(f.up, up) > 1 - 1e-6)) continue;
    const { lo, hi } = reachAlong(points, up);
    const foot = footArea(mesh, up, lo);
    if (foot > 0) rests.push({ up, lo, hi, foot });
    if (rests.length >= mostFlats) break;
  }
  return rests;
}

/**
 * How a part lies until its printing is planned: of the ways in which it fits, the one on its largest flat (common
 * practice: the biggest flat face goes down); turned about the vertical as the bed needs. A part that fits on none of
 * its flats takes any pose that the full search finds.
 *
 * @param room x, y, z of the bed that may be used, mm
 */
export async function flattestPose(mesh: TriMesh, room: Vec3): Promise<PartPose> {
  const points = await hullPoints(mesh);
  const flats = restsOf(mesh, points);
  // among equal feet the lowest print is done soonest
  flats.sort((a, b) => (Math.abs(a.foot - b.foot) > 0.01 * b.foot ? b.foot - a.foot : a.hi - a.lo - (b.hi - b.lo)));
  for (const { up, lo, hi, foot } of flats) {
    if (foot < leastShare * flats[0].foot || hi - lo > room[2] * (1 + 1e-5)) continue;
    const upright = rotationToZ(up);
    const turned = flatFit(rotated(points, upright), room);
    if (turned.value < enough) continue;
    const rows = multiply(turned.m, upright);
    return { fits: true, rotation: rows.map((r) => [...r]), heightMm: hi - lo, footMm2: foot };
  }
  const { fits, pose } = posePoints(points, room);
  const up = pose.rotation[2] as unknown as Vec3;
  const { lo, hi } = reachAlong(points, up);
  return { fits, rotation: pose.rotation, heightMm: hi - lo, footMm2: footArea(mesh, up, lo) };
}

function rotated(points: Float32Array, m: Mat3): Float32Array {
  return placeMesh({ positions: points, triangles: new Uint32Array() }, m).positions;
}

/** A mesh turned by the rows given and moved so that its lowest corner is at 0, 0, 0. */
export function layOnBed(mesh: TriMesh, rotation: readonly (readonly number[])[]): TriMesh {
  const rows = rotation as unknown as Mat3;
  const { min } = boundsOf(placeMesh(mesh, rows));
  return placeMesh(mesh, rows, [-min[0], -min[1], -min[2]]);
}

/** Room between meshes that are laid apart, mm. */
const gapMm = 5;

/** Meshes that lie at 0, 0, 0 moved beside one another, in rows about as long as they are deep in all. */
export function layApart(meshes: readonly TriMesh[]): TriMesh[] {
  const sizes = meshes.map((m) => sizeOf(boundsOf(m)));
  const wide = Math.max(
    ...sizes.map((s) => s[0]),
    Math.sqrt(sizes.reduce((a, s) => a + (s[0] + gapMm) * (s[1] + gapMm), 0)) * 1.1,
  );
  let [x, y, deep] = [0, 0, 0];
  return meshes.map((mesh, i) => {
    if (x > 0 && x + sizes[i][0] > wide) {
      x = 0;
      y += deep + gapMm;
      deep = 0;
    }
    const moved = placeMesh(
      mesh,
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ],
      [x, y, 0],
    );
    x += sizes[i][0] + gapMm;
    deep = Math.max(deep, sizes[i][1]);
    return moved;
  });
}
