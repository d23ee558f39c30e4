import { OPEN, originOf, targetOf, twinsOf } from './edges.ts';
import { sampleSurface } from './deviation.ts';
import { areaOf, triangleNormal } from './measures.ts';
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
const mostPoints = 3000;
const mostAttempts = 600;
const leastShare = 0.03;

/**
 * The plane that a scanned thing stood on, if a patch of it was scanned too: the plane near which most of the area lies
 * with nearly all else on one side of it, found by trying planes through three points at random (Fischler and Bolles 1981), and
 * that ends in an open edge rather than in the walls of a solid.
 *
 */
export function findGround(mesh: TriMesh): Ground | null {
  const n = triangleCount(mesh);
  const twin = twinsOf(mesh);
  if (n < 50 || !twin.includes(OPEN)) return null;
  const random = randomFrom(5);
  const box = boundsOf(mesh);
  const scale = Math.hypot(...sizeOf(box));
  const tolerance = flatShare * scale;
  // points spread evenly, so that counting them is measuring area
  const sampled = sampleSurface(mesh, mostPoints, 5);
  const count = sampled.triangles.length;
  if (count < 50) return null;
  const centre = Array.from({ length: count }, (_, i) => sampled.points.subarray(3 * i, 3 * i + 3) as unknown as Vec3);
  const normal = Array.from(sampled.triangles, (t) => triangleNormal(mesh, t));
  const pick = () => Math.floor(random() * count);
  /** another point whose skin faces as at this one, or the other way */
  const alike = (i: number): number => {
    for (let tries = 0; tries < 12; tries++) {
      const j = pick();
      if (j !== i && Math.abs(dot(normal[i], normal[j])) > 0.9) return j;
    }
    return -1;
  };
  let best: { score: number; normal: Vec3; offset: number } | null = null;
  for (let attempt = 0; attempt < mostAttempts; attempt++) {
    const i = pick();
    const j = alike(i);
    const k = alike(i);
    if (j < 0 || k < 0) continue;
    const q = normalThrough(centre[i], centre[j], centre[k]);
    if (!q || Math.abs(dot(q, normal[i])) < 0.9) continue;
    const offset = dot(q, centre[i]);
    let on = 0;
    let above = 0;
    let below = 0;
    for (let p = 0; p < count; p++) {
      const d = dot(q, centre[p]) - offset;
      if (Math.abs(d) < tolerance) {
        if (Math.abs(dot(q, normal[p])) > 0.9) on++;
      } else if (d > 0) above++;
      else below++;
    }
    const wrong = Math.min(above, below);
    if (wrong > 0.03 * count || on < leastShare * count) continue;
    const score = on - 4 * wrong;
    if (!best || score > best.score)
      best = { score, normal: above >= below ? q : [-q[0], -q[1], -q[2]], offset: above >= below ? offset : -offset };
  }
  if (!best) return null;
  const plane = settled(best, tolerance, centre, normal);
  const { normal: up, offset, within } = plane;
  let sum = 0;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  const inliers: number[] = [];
  for (let j = 0; j < count; j++) {
    const d = dot(up, centre[j]) - offset;
    if (Math.abs(d) >= within || Math.abs(dot(up, normal[j])) <= 0.9) continue;
    inliers.push(d);
    sum += d;
    for (let k = 0; k < 3; k++) {
      lo[k] = Math.min(lo[k], centre[j][k]);
      hi[k] = Math.max(hi[k], centre[j][k]);
    }
  }
  const shift = sum / inliers.length;
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
  const areaMm2 = (areaOf(mesh) * inliers.length) / count;
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
  tolerance: number,
  centre: Vec3[],
  normal: Vec3[],
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
    for (let j = 0; j < centre.length; j++) {
      const c = centre[j];
      const d = dot(n, c) - offset;
      if (Math.abs(d) >= within || Math.abs(dot(n, normal[j])) <= 0.9) continue;
      off.push(Math.abs(d));
      const row = [1, dot(u, c), dot(v, c)];
      for (let i = 0; i < 3; i++) {
        r[i] += row[i] * d;
        for (let k = 0; k < 3; k++) m[3 * i + k] += row[i] * row[k];
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
    const d = dot(up, p) - offset;
    if (d < from || d > to) continue;
    const x = dot(u, p);
    const y = dot(v, p);
    range[0] = Math.min(range[0], x);
    range[1] = Math.max(range[1], x);
    range[2] = Math.min(range[2], y);
    range[3] = Math.max(range[3], y);
  }
  return range[1] > range[0] ? Math.hypot(range[1] - range[0], range[3] - range[2]) : 0;
}

const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Unit normal of the plane through three points, null where they lie on a line. */
function normalThrough(a: Vec3, b: Vec3, c: Vec3): Vec3 | null {
  const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const v = [c[0] - a[0], c[1] - a[1], c[2] - a[2]];
  const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const l = Math.hypot(n[0], n[1], n[2]);
  return l > 1e-3 * Math.hypot(...u) * Math.hypot(...v) ? [n[0] / l, n[1] / l, n[2] / l] : null;
}
