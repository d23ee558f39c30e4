import { treeOf, newHit } from '../mesh/Bvh.ts';
import { originOf, targetOf, twinsOf } from '../mesh/edges.ts';
import { triangleNormal } from '../mesh/measures.ts';
import { MeshError } from '../run/MeshError.ts';
import { cross, dot, normalize, vec3 } from '../mesh/transform.ts';
import { diagonalOf, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import { figures } from '../trade/figures.ts';

export interface Circle {
  centre: Vec3;
  normal: Vec3;
  diameterMm: number;
  /** the points measured stand off the circle by up to this, mm */
  outOfRoundMm: number;
  /** points on it that were measured, x, y, z each */
  points: number[];
}

const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

/**
 * The circle through three points.
 *
 * @throws MeshError `bad-params` when they stand in a line or fall together
 */
export function circleThrough(a: Vec3, b: Vec3, c: Vec3): Circle {
  const u = minus(b, a);
  const v = minus(c, a);
  const n = cross(u, v);
  const nn = dot(n, n);
  const longest = Math.max(dot(u, u), dot(v, v), dot(minus(c, b), minus(c, b)));
  if (!(nn > 1e-12 * longest * longest))
    throw new MeshError(
      'bad-params',
      'The three points stand in a line, so no circle goes through them.',
      'Pick them spread around the rim.',
      'points',
    );
  // circumcentre from the two sides at a
  const uxn = cross(n, u);
  const nxv = cross(v, n);
  const to = vec3((k) => (dot(v, v) * uxn[k] + dot(u, u) * nxv[k]) / (2 * nn));
  return {
    centre: [a[0] + to[0], a[1] + to[1], a[2] + to[2]],
    normal: normalize(n),
    diameterMm: 2 * Math.hypot(...to),
    outOfRoundMm: 0,
    points: [...a, ...b, ...c],
  };
}

/**
 * The circle nearest to points that stand about in a plane: the plane of least squares through them, and in it the
 * circle that makes the sum of (x^2 + y^2 - D x - E y - F)^2 least (Kåsa 1976), which is exact for points on a circle.
 */
export function fitCircle(points: ArrayLike<number>): Circle {
  const n = points.length / 3;
  const mean: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < points.length; i++) mean[i % 3] += points[i] / n;
  // normal of the polygon, by its areas in the three planes (Newell)
  const normal: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const a: Vec3 = vec3((k) => points[3 * i + k] - mean[k]);
    const b: Vec3 = vec3((k) => points[3 * j + k] - mean[k]);
    const c = cross(a, b);
    for (let k = 0; k < 3; k++) normal[k] += c[k];
  }
  const z = normalize(normal);
  const x = normalize(cross(Math.abs(z[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0], z));
  const y = cross(z, x);
  let xx = 0;
  let xy = 0;
  let yy = 0;
  let xr = 0;
  let yr = 0;
  let r = 0;
  const flat = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    const d: Vec3 = vec3((k) => points[3 * i + k] - mean[k]);
    const px = dot(d, x);
    const py = dot(d, y);
    flat[2 * i] = px;
    flat[2 * i + 1] = py;
    const rr = px * px + py * py;
    xx += px * px;
    xy += px * py;
    yy += py * py;
    xr += px * rr;
    yr += py * rr;
    r += rr;
  }
  const det = xx * yy - xy * xy;
  const cx = det > 0 ? (xr * yy - yr * xy) / (2 * det) : 0;
  const cy = det > 0 ? (yr * xx - xr * xy) / (2 * det) : 0;
  const radius = Math.sqrt(Math.max(0, r / n + cx * cx + cy * cy));
  let off = 0;
  for (let i = 0; i < n; i++)
    off = Math.max(off, Math.abs(Math.hypot(flat[2 * i] - cx, flat[2 * i + 1] - cy) - radius));
  return {
    centre: vec3((k) => mean[k] + cx * x[k] + cy * y[k]),
    normal: z,
    diameterMm: 2 * radius,
    outOfRoundMm: off,
    points: Array.from(points),
  };
}

/** A rim is not followed round a corner sharper than this. */
const sharpestTurn = Math.cos((65 * Math.PI) / 180);

/**
 * The round rim nearest to a picked point: an open edge or a crease is followed both ways as straight on as it goes, and
 * a circle laid through its corners.
 *
 * @throws MeshError `cannot` when no rim is near, or what was followed is no arc
 */
export function rimNear(mesh: TriMesh, at: Vec3): Circle {
  const twin = twinsOf(mesh);
  const tree = treeOf(mesh);
  const { positions: p } = mesh;
  const least = Math.cos((figures.creaseDeg.value * Math.PI) / 180);
  const sharp = (h: number): boolean => {
    if (twin[h] < 0) return true;
    const a = triangleNormal(mesh, (h / 3) | 0);
    const b = triangleNormal(mesh, (twin[h] / 3) | 0);
    return dot(a, b) < least;
  };
  const place = (v: number): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const distance = (h: number): number => {
    const a = place(originOf(mesh, h));
    const d = minus(place(targetOf(mesh, h)), a);
    const w = minus(at, a);
    const s = Math.min(1, Math.max(0, dot(w, d) / (dot(d, d) || 1)));
    return Math.hypot(w[0] - s * d[0], w[1] - s * d[1], w[2] - s * d[2]);
  };
  const scale = diagonalOf(mesh);
  const from = tree.nearest(at[0], at[1], at[2], Infinity, newHit()).distance;
  let first = -1;
  for (let reach = from + 0.01 * scale; first < 0 && reach < from + 0.2 * scale; reach *= 2) {
    let best = reach;
    tree.eachInBox(at[0] - reach, at[1] - reach, at[2] - reach, at[0] + reach, at[1] + reach, at[2] + reach, (t) => {
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const d = distance(h);
        if (d < best && sharp(h)) {
          best = d;
          first = h;
        }
      }
    });
  }
  if (first < 0)
    throw new MeshError(
      'cannot',
      'No rim is near that place.',
      'Pick a point on an edge of a round opening or disc, or measure its circle by three points.',
      'points',
    );
  /** Half-edges at a vertex, of the triangles around it that hang together with the one of `near`. */
  const around = (near: number, v: number): number[] => {
    const out: number[] = [];
    const seen = new Set<number>();
    const stack = [(near / 3) | 0];
    if (twin[near] >= 0) stack.push((twin[near] / 3) | 0);
    while (stack.length > 0) {
      const t = stack.pop()!;
      if (seen.has(t)) continue;
      seen.add(t);
      for (let k = 3 * t; k < 3 * t + 3; k++) {
        if (originOf(mesh, k) !== v && targetOf(mesh, k) !== v) continue;
        if (twin[k] >= 0) stack.push((twin[k] / 3) | 0);
        out.push(k);
      }
    }
    return out;
  };
  /** the other end of a half-edge at a vertex */
  const beyond = (k: number, v: number): number => (originOf(mesh, k) === v ? targetOf(mesh, k) : originOf(mesh, k));
  const follow = (h: number): number[] => {
    const chain = [originOf(mesh, h), targetOf(mesh, h)];
    let edge = h;
    while (chain.length < 100_000) {
      const v = chain[chain.length - 1];
      const u = chain[chain.length - 2];
      const ahead = normalize(minus(place(v), place(u)));
      let next = -1;
      let best = sharpestTurn;
      for (const k of around(edge, v)) {
        const w = beyond(k, v);
        if (w === u || !sharp(k)) continue;
        const c = dot(ahead, normalize(minus(place(w), place(v))));
        if (c > best) {
          best = c;
          next = k;
        }
      }
      if (next < 0) break;
      const w = beyond(next, v);
      if (w === chain[0]) return chain;
      chain.push(w);
      edge = next;
    }
    chain.push(-1);
    return chain;
  };
  let chain = follow(first);
  const closed = chain[chain.length - 1] !== -1;
  if (!closed) {
    // the other way from where this one ended
    chain.pop();
    const back = twin[first] >= 0 ? follow(twin[first]) : [];
    if (back[back.length - 1] === -1) back.pop();
    chain = [...back.slice(2).reverse(), ...chain];
  }
  const circle = fitCircle(chain.flatMap(place));
  const round = circle.outOfRoundMm < 0.05 * circle.diameterMm;
  if (chain.length < 5 || !round || !Number.isFinite(circle.diameterMm))
    throw new MeshError(
      'cannot',
      'The edge that is nearest to that place is not round.',
      'Pick a round rim, or measure a circle by three points.',
      'points',
    );
  return circle;
}
