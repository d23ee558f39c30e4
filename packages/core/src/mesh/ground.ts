import { buildEdges, OPEN, originOf, targetOf, twinsOf } from './edges.ts';
import { triangleArea, triangleCentre, triangleNormal } from './measures.ts';
import { randomFrom } from './random.ts';
import { boundsOf, sizeOf, triangleCount, type TriMesh, type Vec3 } from './TriMesh.ts';

export interface Ground {
  /** unit normal, towards the model */
  normal: Vec3;
  /** n . p of the plane, mm */
  offset: number;
  /** the ground stays within this of the plane, mm */
  flatMm: number;
  areaMm2: number;
  size: Vec3;
  at: Vec3;
}

/** Triangles within this share of the diagonal of a plane may be ground. */
const flatShare = 0.006;
/** The open edges of ground are at least this share of the circle of its area. */
const leastRim = 0.5;
/** A patch smaller than this share of the whole skin is no ground. */
const leastShare = 0.03;

/**
 * The plane that a scanned thing stood on, if a patch of it was scanned too: the plane near which most of the area lies
 * with nearly all else on one side of it, found by trying planes of triangles at random (Fischler and Bolles 1981), and
 * that ends in an open edge rather than in the walls of a solid.
 *
 * @param twin twins of the half-edges, if they are known
 */
export function findGround(mesh: TriMesh, twin = twinsOf(mesh, buildEdges(mesh))): Ground | null {
  const n = triangleCount(mesh);
  if (n < 50 || !twin.includes(OPEN)) return null;
  const random = randomFrom(5);
  const box = boundsOf(mesh);
  const scale = Math.hypot(...sizeOf(box));
  const tolerance = flatShare * scale;
  const stride = Math.max(1, Math.floor(n / 6000));
  const list: number[] = [];
  let total = 0;
  const area: number[] = [];
  const centre: Vec3[] = [];
  const normal: Vec3[] = [];
  for (let t = 0; t < n; t += stride) {
    list.push(t);
    const a = triangleArea(mesh.positions, mesh.triangles[3 * t], mesh.triangles[3 * t + 1], mesh.triangles[3 * t + 2]);
    area.push(a);
    total += a;
    centre.push(triangleCentre(mesh, t));
    normal.push(triangleNormal(mesh, t));
  }
  let best: { score: number; normal: Vec3; offset: number } | null = null;
  for (let attempt = 0; attempt < 300; attempt++) {
    const i = Math.floor(random() * list.length);
    const q = normal[i];
    if (q[0] === 0 && q[1] === 0 && q[2] === 0) continue;
    const offset = q[0] * centre[i][0] + q[1] * centre[i][1] + q[2] * centre[i][2];
    let on = 0;
    let above = 0;
    let below = 0;
    for (let j = 0; j < list.length; j++) {
      const d = q[0] * centre[j][0] + q[1] * centre[j][1] + q[2] * centre[j][2] - offset;
      const along = Math.abs(q[0] * normal[j][0] + q[1] * normal[j][1] + q[2] * normal[j][2]);
      if (Math.abs(d) < tolerance) {
        if (along > 0.9) on += area[j];
      } else if (d > 0) above += area[j];
      else below += area[j];
    }
    const wrong = Math.min(above, below);
    if (wrong > 0.03 * total || on < leastShare * total) continue;
    const score = on - 4 * wrong;
    if (!best || score > best.score)
      best = { score, normal: above >= below ? q : [-q[0], -q[1], -q[2]], offset: above >= below ? offset : -offset };
  }
  if (!best) return null;
  const plane = settled(best, list.length, tolerance, centre, normal, area);
  const { normal: up, offset, within } = plane;
  // least squares of the offset alone, then how flat and how large
  let sum = 0;
  let weight = 0;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  const inliers: number[] = [];
  for (let j = 0; j < list.length; j++) {
    const d = up[0] * centre[j][0] + up[1] * centre[j][1] + up[2] * centre[j][2] - offset;
    const along = Math.abs(up[0] * normal[j][0] + up[1] * normal[j][1] + up[2] * normal[j][2]);
    if (Math.abs(d) >= within || along <= 0.9) continue;
    inliers.push(d);
    sum += d * area[j];
    weight += area[j];
    for (let k = 0; k < 3; k++) {
      lo[k] = Math.min(lo[k], centre[j][k]);
      hi[k] = Math.max(hi[k], centre[j][k]);
    }
  }
  const shift = sum / weight;
  const flatMm = inliers.reduce((m, d) => Math.max(m, Math.abs(d - shift)), 0);
  // most of its rim is open
  let rim = 0;
  const p = mesh.positions;
  const near = (v: number) =>
    Math.abs(up[0] * p[3 * v] + up[1] * p[3 * v + 1] + up[2] * p[3 * v + 2] - offset - shift) < 2 * tolerance;
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] !== OPEN) continue;
    const a = originOf(mesh, h);
    const b = targetOf(mesh, h);
    if (near(a) && near(b)) rim += Math.hypot(...[0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k]));
  }
  const areaMm2 = (weight * n) / list.length;
  if (rim < leastRim * 2 * Math.sqrt(Math.PI * areaMm2)) return null;
  // ground reaches out beside the model or lies apart: it is wider than what stands just above it
  const footprint = spread(centre, up, offset + shift, -tolerance, tolerance);
  const body = spread(centre, up, offset + shift, 2.5 * tolerance, 8 * tolerance);
  if (footprint < 1.15 * body) return null;
  return {
    normal: up,
    offset: offset + shift,
    flatMm,
    areaMm2,
    size: [hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]],
    at: [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2],
  };
}

/** The plane of least squares through what lies near a plane, taken anew a few times, and how far its points scatter. */
function settled(
  start: { normal: Vec3; offset: number },
  count: number,
  tolerance: number,
  centre: Vec3[],
  normal: Vec3[],
  area: number[],
): { normal: Vec3; offset: number; within: number } {
  let plane = start;
  let within = tolerance;
  for (let round = 0; round < 4; round++) {
    const { normal: n, offset } = plane;
    const [u, v] = across(n);
    // height over the plane as a + b x + c y, by its normal equations
    const m = new Float64Array(9);
    const r = new Float64Array(3);
    const off: number[] = [];
    for (let j = 0; j < count; j++) {
      const c = centre[j];
      const d = n[0] * c[0] + n[1] * c[1] + n[2] * c[2] - offset;
      const along = Math.abs(n[0] * normal[j][0] + n[1] * normal[j][1] + n[2] * normal[j][2]);
      if (Math.abs(d) >= within || along <= 0.9) continue;
      off.push(Math.abs(d));
      const row = [1, u[0] * c[0] + u[1] * c[1] + u[2] * c[2], v[0] * c[0] + v[1] * c[1] + v[2] * c[2]];
      for (let i = 0; i < 3; i++) {
        r[i] += area[j] * row[i] * d;
        for (let k = 0; k < 3; k++) m[3 * i + k] += area[j] * row[i] * row[k];
      }
    }
    const det = (a: Float64Array) =>
      a[0] * (a[4] * a[8] - a[5] * a[7]) - a[1] * (a[3] * a[8] - a[5] * a[6]) + a[2] * (a[3] * a[7] - a[4] * a[6]);
    const whole = det(m);
    if (!(Math.abs(whole) > 0)) break;
    const [a, b, c] = [0, 1, 2].map((k) => {
      const q = m.slice();
      for (let i = 0; i < 3; i++) q[3 * i + k] = r[i];
      return det(q) / whole;
    });
    const turned = [0, 1, 2].map((k) => n[k] - b * u[k] - c * v[k]);
    const l = Math.hypot(...turned);
    plane = { normal: turned.map((x) => x / l) as unknown as Vec3, offset: (offset + a) / l };
    // the foot of the model lies near the plane too: ground is what scatters as most of it does
    if (round > 0) within = Math.max(tolerance / 50, Math.min(within, 4 * off.sort((x, y) => x - y)[off.length >> 1]));
  }
  return { ...plane, within };
}

/** Two unit directions square to one and to each other. */
function across(up: Vec3): [Vec3, Vec3] {
  const u: Vec3 = Math.abs(up[0]) < 0.7 ? [0, -up[2], up[1]] : [up[2], 0, -up[0]];
  const l = Math.hypot(...u);
  const v: Vec3 = [up[1] * u[2] - up[2] * u[1], up[2] * u[0] - up[0] * u[2], up[0] * u[1] - up[1] * u[0]];
  return [u.map((x) => x / l) as unknown as Vec3, v.map((x) => x / l) as unknown as Vec3];
}

/** Diagonal of the bounds, across `up`, of the points between two heights above a plane. */
function spread(points: Vec3[], up: Vec3, offset: number, from: number, to: number): number {
  const [u, v] = across(up);
  const range = [Infinity, -Infinity, Infinity, -Infinity];
  for (const p of points) {
    const d = up[0] * p[0] + up[1] * p[1] + up[2] * p[2] - offset;
    if (d < from || d > to) continue;
    const x = u[0] * p[0] + u[1] * p[1] + u[2] * p[2];
    const y = v[0] * p[0] + v[1] * p[1] + v[2] * p[2];
    range[0] = Math.min(range[0], x);
    range[1] = Math.max(range[1], x);
    range[2] = Math.min(range[2], y);
    range[3] = Math.max(range[3], y);
  }
  return range[1] > range[0] ? Math.hypot(range[1] - range[0], range[3] - range[2]) : 0;
}
