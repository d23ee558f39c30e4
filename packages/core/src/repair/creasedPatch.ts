import type { Patch } from './fairPatch.ts';
import { trianglesOf } from './fillLoop.ts';

/** A loop counts as crossing a crease where the skin turns by more than this from one side of a corner to the next: cosine of 25 degrees. */
const crease = Math.cos((25 * Math.PI) / 180);
/** A patch that goes on from its rim within this has found what was there: cosine of 6 degrees. */
const straight = Math.cos((6 * Math.PI) / 180);
/** Triangles of one flat turn by no more than this: cosine of 2 degrees. */
const flat = Math.cos((2 * Math.PI) / 180);
const mostFlats = 12;
/** Longest loop that is looked at: time grows with the cube of the length, and large holes have lost their creases anyway. */
const longest = 120;

/**
 * A patch over a hole that lies across creases or over a corner, if what was there can be told: triangles that go straight
 * on from the flats around, meeting along the creases that run into the hole, and in a point where three or more flats
 * meet in one. Null where the surroundings are smooth, or where no such patch goes on straight from all of its rim.
 *
 * @param points x, y, z per corner of the loop, in walking order
 * @param rim unit normal of the triangle beyond each side, the first beyond the side from corner 0 to corner 1
 * @param taken is there already an edge between corners i and j?
 */
export function creasedPatch(
  points: Float64Array,
  rim: Float64Array,
  taken: (i: number, j: number) => boolean,
): Patch | null {
  const n = points.length / 3;
  if (n < 4 || n > longest) return null;
  let creased = false;
  for (let i = 0; i < n && !creased; i++) creased = dot(rim, i, rim, (i + 1) % n) < crease;
  if (!creased) return null;
  // where a side lies on a crease, the patch goes on with the flat on the other side of it
  for (const sides of [overCreases(points, rim), rim]) {
    if (!sides) continue;
    // first a corner: cutting it off bends less
    const corner = overCorner(points, sides, taken);
    if (corner) return corner;
    const bent = leastBend(points, sides, taken);
    if (bent && goesOn(points, bent, sides)) return { points: [...points], triangles: bent, rim: n };
  }
  return null;
}

/** Normals of the flats that a patch runs into beyond each side, where some sides lie on two of the flats around; or null. */
function overCreases(p: Float64Array, rim: Float64Array): Float64Array | null {
  const n = rim.length / 3;
  const flats: Flat[] = [];
  let reach = 0;
  for (let i = 0; i < n; i++) reach = Math.max(reach, far(p, 0, i));
  for (let i = 0; i < n && flats.length < mostFlats; i++) {
    const own = flatBeyond(p, rim, i);
    if (!flats.some((f) => lies(f, p, i, reach) && lies(f, p, (i + 1) % n, reach) && along(f, own) > flat))
      flats.push(own);
  }
  const out = rim.slice();
  let changed = false;
  for (let i = 0; i < n; i++) {
    const own = flatBeyond(p, rim, i);
    const other = flats.find((f) => along(f, own) < crease && lies(f, p, i, reach) && lies(f, p, (i + 1) % n, reach));
    if (!other) continue;
    out.set(other.normal, 3 * i);
    changed = true;
  }
  return changed ? out : null;
}

function flatBeyond(p: Float64Array, rim: Float64Array, i: number): Flat {
  const j = (i + 1) % (rim.length / 3);
  const normal = [rim[3 * i], rim[3 * i + 1], rim[3 * i + 2]];
  const offset = normal.reduce((sum, x, k) => sum + (x * (p[3 * i + k] + p[3 * j + k])) / 2, 0);
  return { normal, offset, first: i, sides: 1 };
}

const along = (a: Flat, b: Flat): number => a.normal.reduce((sum, x, k) => sum + x * b.normal[k], 0);

/** Does a corner lie on a flat, within a thousandth of the hole? */
const lies = (f: Flat, p: Float64Array, i: number, reach: number): boolean =>
  Math.abs(f.normal.reduce((sum, x, k) => sum + x * p[3 * i + k], 0) - f.offset) < 1e-3 * reach;

const dot = (a: Float64Array, i: number, b: Float64Array, j: number): number =>
  a[3 * i] * b[3 * j] + a[3 * i + 1] * b[3 * j + 1] + a[3 * i + 2] * b[3 * j + 2];

const far = (p: Float64Array, i: number, j: number): number =>
  Math.hypot(p[3 * i] - p[3 * j], p[3 * i + 1] - p[3 * j + 1], p[3 * i + 2] - p[3 * j + 2]);

/** Unit normal of a triangle over three corners into `out` at `o`; its double area. */
function normalAt(p: Float64Array, a: number, b: number, c: number, out: Float64Array, o: number): number {
  const ux = p[3 * b] - p[3 * a];
  const uy = p[3 * b + 1] - p[3 * a + 1];
  const uz = p[3 * b + 2] - p[3 * a + 2];
  const vx = p[3 * c] - p[3 * a];
  const vy = p[3 * c + 1] - p[3 * a + 1];
  const vz = p[3 * c + 2] - p[3 * a + 2];
  const x = uy * vz - uz * vy;
  const y = uz * vx - ux * vz;
  const z = ux * vy - uy * vx;
  const length = Math.hypot(x, y, z);
  out[3 * o] = length > 0 ? x / length : 0;
  out[3 * o + 1] = length > 0 ? y / length : 0;
  out[3 * o + 2] = length > 0 ? z / length : 0;
  return length;
}

/**
 * The triangulation that bends least in all: the sum over its edges of length times angle, rim included. By the dynamic
 * programme of Liepa (2003), who takes the largest angle instead; the sum leaves sharp creases sharp.
 */
function leastBend(p: Float64Array, rim: Float64Array, taken: (i: number, j: number) => boolean): number[] | null {
  const n = p.length / 3;
  const cost = new Float64Array(n * n);
  const apex = new Int16Array(n * n);
  // unit normal of the triangle that stands on each chord on its far side
  const normal = new Float64Array(3 * n * n);
  for (let i = 0; i + 1 < n; i++) normal.set(rim.subarray(3 * i, 3 * i + 3), 3 * (i * n + i + 1));
  const own = new Float64Array(3);
  const bend = (chord: number, length: number): number =>
    length * Math.acos(Math.min(1, Math.max(-1, dot(own, 0, normal, chord))));
  for (let span = 2; span < n; span++)
    for (let i = 0; i + span < n; i++) {
      const j = i + span;
      const at = i * n + j;
      cost[at] = Infinity;
      apex[at] = -1;
      if (span < n - 1 && taken(i, j)) continue;
      for (let k = i + 1; k < j; k++) {
        const below = cost[i * n + k] + cost[k * n + j];
        if (!(below < cost[at])) continue;
        const area = normalAt(p, i, k, j, own, 0);
        if (!(area > 0)) continue;
        let whole = below + bend(i * n + k, far(p, i, k)) + bend(k * n + j, far(p, k, j));
        if (span === n - 1) whole += far(p, i, j) * Math.acos(Math.min(1, Math.max(-1, dot(own, 0, rim, n - 1))));
        // of those that bend alike the one with shorter chords
        whole += 1e-4 * far(p, i, j);
        if (whole < cost[at]) {
          cost[at] = whole;
          apex[at] = k;
          normal.set(own, 3 * at);
        }
      }
    }
  if (!Number.isFinite(cost[n - 1])) return null;
  return trianglesOf(apex, n);
}

/** Does a patch go straight on from its rim, on every side? */
function goesOn(p: Float64Array, triangles: number[], rim: Float64Array): boolean {
  const n = rim.length / 3;
  const own = new Float64Array(3);
  for (let t = 0; t < triangles.length; t += 3) {
    normalAt(p, triangles[t], triangles[t + 1], triangles[t + 2], own, 0);
    for (let k = 0; k < 3; k++) {
      const a = triangles[t + k];
      if (a < n && triangles[t + ((k + 1) % 3)] === (a + 1) % n && dot(own, 0, rim, a) < straight) return false;
    }
  }
  return true;
}

interface Flat {
  /** unit normal, and how far the plane lies from the origin */
  normal: number[];
  offset: number;
  /** sides of the loop that it lies beyond, `sides` of them from `first` on */
  first: number;
  sides: number;
}

/** The flats around a loop in walking order, or null where it is not all flats. */
function flatsAround(p: Float64Array, rim: Float64Array, near: number): Flat[] | null {
  const n = rim.length / 3;
  let start = 0;
  while (start < n && dot(rim, start, rim, (start + n - 1) % n) > crease) start++;
  if (start === n) return null;
  const flats: Flat[] = [];
  for (let s = 0; s < n; s++) {
    const own = flatBeyond(p, rim, (start + s) % n);
    const last = flats.at(-1);
    if (last && along(own, last) > flat) {
      if (Math.abs(own.offset - last.offset) > near) return null;
      last.sides++;
    } else flats.push(own);
  }
  return flats;
}

/** A patch of flats that meet in one point; null where there is no such point near the hole. */
function overCorner(points: Float64Array, rim: Float64Array, taken: (i: number, j: number) => boolean): Patch | null {
  const n = rim.length / 3;
  const middle = [0, 0, 0];
  for (let i = 0; i < 3 * n; i++) middle[i % 3] += points[i] / n;
  let reach = 0;
  for (let i = 0; i < n; i++) reach = Math.max(reach, Math.hypot(...middle.map((m, k) => points[3 * i + k] - m)));
  const flats = flatsAround(points, rim, 1e-3 * reach);
  if (!flats || flats.length < 3) return null;
  const tip = meeting(flats, middle);
  if (!tip || Math.hypot(...tip.map((x, k) => x - middle[k])) > 1.5 * reach) return null;
  if (flats.some((f) => Math.abs(f.normal.reduce((s, x, k) => s + x * tip[k], 0) - f.offset) > 1e-3 * reach))
    return null;
  for (let i = 0; i < n; i++) if (Math.hypot(...tip.map((x, k) => x - points[3 * i + k])) < 1e-2 * reach) return null;
  const whole = Float64Array.from([...points, ...tip]);
  const triangles: number[] = [];
  for (const f of flats) {
    // the tip, then the corners of the flat's sides
    const corners = [n, ...Array.from({ length: f.sides + 1 }, (_, s) => (f.first + s) % n)];
    const own = Float64Array.from(corners.flatMap((c) => [0, 1, 2].map((k) => whole[3 * c + k])));
    const normals = Float64Array.from(corners.flatMap(() => f.normal));
    const filled = leastBend(own, normals, (i, j) => i > 0 && j > 0 && taken(corners[i], corners[j]));
    if (!filled) return null;
    for (const c of filled) triangles.push(corners[c]);
  }
  return goesOn(whole, triangles, rim) ? { points: [...whole], triangles, rim: n } : null;
}

/** The point nearest to all planes in the sense of least squares; null where they do not tell one. */
function meeting(flats: Flat[], about: number[]): number[] | null {
  const a = [0, 0, 0, 0, 0, 0];
  const b = [0, 0, 0];
  for (const { normal: m, offset } of flats) {
    const d = offset - (m[0] * about[0] + m[1] * about[1] + m[2] * about[2]);
    a[0] += m[0] * m[0];
    a[1] += m[0] * m[1];
    a[2] += m[0] * m[2];
    a[3] += m[1] * m[1];
    a[4] += m[1] * m[2];
    a[5] += m[2] * m[2];
    for (let k = 0; k < 3; k++) b[k] += m[k] * d;
  }
  const [xx, xy, xz, yy, yz, zz] = a;
  const A = yy * zz - yz * yz;
  const B = xz * yz - xy * zz;
  const C = xy * yz - xz * yy;
  const det = xx * A + xy * B + xz * C;
  if (!(det > 1e-3)) return null;
  return [
    about[0] + (A * b[0] + B * b[1] + C * b[2]) / det,
    about[1] + (B * b[0] + (xx * zz - xz * xz) * b[1] + (xy * xz - xx * yz) * b[2]) / det,
    about[2] + (C * b[0] + (xy * xz - xx * yz) * b[1] + (xx * yy - xy * xy) * b[2]) / det,
  ];
}
