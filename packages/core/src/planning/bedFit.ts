import { identity3, normalize, type Mat3 } from '../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { hullPoints } from '../solid/kernel.ts';

export interface BedFit {
  fits: boolean;
  /** rows of the rotation that fits, or that comes nearest */
  pose: { rotation: number[][] };
  /** the largest scale at which the model still fits in some pose */
  largestFactor: number;
  /** the same, turned about the vertical only */
  flatFactor: number;
}

/** Points between two looks whether an extent is too large already. */
const spell = 3 * 64;

/**
 * Smallest ratio of bed to extent over the three axes, for points turned by `m`, nine numbers row by row.
 *
 * @param over whoever asks wants more than this: as soon as it cannot be, what is returned is some number no larger
 * @param ends of each axis the points that lay farthest down and up last, or -1: looked at first, and set anew
 */
function ratio(points: Float32Array, m: Float64Array, bed: Vec3, over = 0, ends?: Int32Array): number {
  if (ends && ends[0] >= 0)
    for (let r = 0; r < 3; r++) {
      const a = m[3 * r];
      const b = m[3 * r + 1];
      const c = m[3 * r + 2];
      const i = ends[2 * r];
      const j = ends[2 * r + 1];
      const extent =
        a * points[j] + b * points[j + 1] + c * points[j + 2] - (a * points[i] + b * points[i + 1] + c * points[i + 2]);
      if (bed[r] / Math.max(extent, 1e-12) <= over) return over;
    }
  let best = Infinity;
  for (let r = 0; r < 3; r++) {
    const a = m[3 * r];
    const b = m[3 * r + 1];
    const c = m[3 * r + 2];
    let lo = Infinity;
    let hi = -Infinity;
    let low = 0;
    let high = 0;
    for (let from = 0; from < points.length; from += spell) {
      const to = Math.min(points.length, from + spell);
      for (let i = from; i < to; i += 3) {
        const x = a * points[i] + b * points[i + 1] + c * points[i + 2];
        if (x < lo) {
          lo = x;
          low = i;
        }
        if (x > hi) {
          hi = x;
          high = i;
        }
      }
      if (bed[r] / Math.max(hi - lo, 1e-12) <= over) return over;
    }
    if (ends) {
      ends[2 * r] = low;
      ends[2 * r + 1] = high;
    }
    const q = bed[r] / Math.max(hi - lo, 1e-12);
    if (q < best) best = q;
  }
  return best;
}

const aboutZ = (angle: number): Mat3 => [
  [Math.cos(angle), -Math.sin(angle), 0],
  [Math.sin(angle), Math.cos(angle), 0],
  [0, 0, 1],
];

/** Rotation of a unit quaternion x, y, z, w. */
function ofQuaternion(x: number, y: number, z: number, w: number): Mat3 {
  return [
    [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
    [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
    [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
  ];
}

/** First `b`, then `a`. */
export function multiply(a: Mat3, b: Mat3): Mat3 {
  return a.map((row) =>
    [0, 1, 2].map((c) => row[0] * b[0][c] + row[1] * b[1][c] + row[2] * b[2][c]),
  ) as unknown as Mat3;
}

const rowByRow = (m: Mat3): Float64Array => Float64Array.of(...m[0], ...m[1], ...m[2]);

const asRows = (m: Float64Array): Mat3 =>
  [0, 1, 2].map((r) => [m[3 * r], m[3 * r + 1], m[3 * r + 2]]) as unknown as Mat3;

/**
 * Puts a rotation, turned on by a small vector (radians), into `out`: first order made orthogonal again. Some hundred
 * thousand of them are tried for a fit, so they are nine numbers in one place and not arrays of arrays.
 */
function turn(out: Float64Array, m: Float64Array, dx: number, dy: number, dz: number): void {
  const angle = Math.hypot(dx, dy, dz);
  const s = Math.sin(angle / 2) / angle;
  const x = dx * s;
  const y = dy * s;
  const z = dz * s;
  const w = Math.cos(angle / 2);
  // two rows of the unit quaternion x, y, z, w as a rotation, times m
  const a = 1 - 2 * (y * y + z * z);
  const b = 2 * (x * y - z * w);
  const c = 2 * (x * z + y * w);
  const d = 2 * (x * y + z * w);
  const e = 1 - 2 * (x * x + z * z);
  const f = 2 * (y * z - x * w);
  let ax = a * m[0] + b * m[3] + c * m[6];
  let ay = a * m[1] + b * m[4] + c * m[7];
  let az = a * m[2] + b * m[5] + c * m[8];
  const bx = d * m[0] + e * m[3] + f * m[6];
  const by = d * m[1] + e * m[4] + f * m[7];
  const bz = d * m[2] + e * m[5] + f * m[8];
  const long = Math.hypot(ax, ay, az);
  ax /= long;
  ay /= long;
  az /= long;
  let nx = ay * bz - az * by;
  let ny = az * bx - ax * bz;
  let nz = ax * by - ay * bx;
  const high = Math.hypot(nx, ny, nz);
  nx /= high;
  ny /= high;
  nz /= high;
  out[0] = ax;
  out[1] = ay;
  out[2] = az;
  out[3] = ny * az - nz * ay;
  out[4] = nz * ax - nx * az;
  out[5] = nx * ay - ny * ax;
  out[6] = nx;
  out[7] = ny;
  out[8] = nz;
}

const directions: Vec3[] = [];
for (let x = -1; x <= 1; x++)
  for (let y = -1; y <= 1; y++) for (let z = -1; z <= 1; z++) if (x || y || z) directions.push(normalize([x, y, z]));

/**
 * Climbs from a pose by ever smaller turns (pattern search; the objective has kinks, so no slopes are used). The
 * number of rounds is bounded: along a kink the gain of a round can become endlessly small.
 */
function climb(
  points: Float32Array,
  start: Float64Array,
  bed: Vec3,
  first: number,
): { m: Float64Array; value: number } {
  const m = start.slice();
  const next = new Float64Array(9);
  const candidate = new Float64Array(9);
  // a turn that is worse is so, as a rule, by the points that limit the pose it starts from
  const ends = new Int32Array(6).fill(-1);
  let value = ratio(points, m, bed, 0, ends);
  let step = first;
  for (let round = 0; round < 160 && step > 1e-8; round++) {
    let best = value;
    for (const [dx, dy, dz] of directions) {
      turn(candidate, m, dx * step, dy * step, dz * step);
      const v = ratio(points, candidate, bed, best, ends);
      if (v > best) {
        best = v;
        next.set(candidate);
      }
    }
    if (best > value * (1 + 1e-9)) {
      m.set(next);
      value = best;
      step *= 1.3;
    } else step *= 0.5;
  }
  return { m, value };
}

/**
 * Does a mesh fit the bed, and how turned; and the largest scale at which it would. The search looks at 3 000 poses
 * spread evenly over all rotations (super-Fibonacci spirals, Alexa 2022) and climbs from the best twenty.
 *
 * @param bed x, y, z of the room that may be used, mm
 */
export async function fitInBed(mesh: TriMesh, bed: Vec3): Promise<BedFit> {
  return fitPoints(await hullPoints(mesh), bed);
}

/** Whether the corners of a hull fit in some pose, and which: as they are or on another side if that will do, or else by the full search. */
export function posePoints(points: Float32Array, bed: Vec3): { fits: boolean; pose: { rotation: number[][] } } {
  for (const m of quarterTurns)
    if (ratio(points, rowByRow(m), bed) >= enough) return { fits: true, pose: { rotation: m.map((row) => [...row]) } };
  const { fits, pose } = fitPoints(points, bed);
  return { fits, pose };
}

/** Each axis in each other's place, without mirroring. */
const quarterTurns: Mat3[] = [
  identity3,
  [
    [0, -1, 0],
    [1, 0, 0],
    [0, 0, 1],
  ],
  [
    [1, 0, 0],
    [0, 0, -1],
    [0, 1, 0],
  ],
  [
    [0, 0, 1],
    [0, 1, 0],
    [-1, 0, 0],
  ],
  [
    [0, 1, 0],
    [0, 0, 1],
    [1, 0, 0],
  ],
  [
    [0, 0, 1],
    [1, 0, 0],
    [0, 1, 0],
  ],
];

/** Float32 rounding of a part cut exactly to the bed must not make it too large. */
export const enough = 1 - 1e-5;

/** The largest scale of hull corners in a bed, turned about the vertical only, and that turn. */
export function flatFit(points: Float32Array, bed: Vec3): { m: Mat3; value: number } {
  const ends = new Int32Array(6).fill(-1);
  let flat = { m: identity3, value: ratio(points, rowByRow(identity3), bed, 0, ends) };
  for (let i = 0; i < 360; i++) {
    const m = aboutZ((i * Math.PI) / 360);
    const value = ratio(points, rowByRow(m), bed, flat.value, ends);
    if (value > flat.value) flat = { m, value };
  }
  for (let step = Math.PI / 360; step > 1e-8;) {
    let better = false;
    for (const s of [step, -step]) {
      const m = multiply(aboutZ(s), flat.m);
      const value = ratio(points, rowByRow(m), bed, flat.value, ends);
      if (value > flat.value * (1 + 1e-9)) {
        flat = { m, value };
        better = true;
      }
    }
    if (!better) step *= 0.6;
  }
  return flat;
}

/** `fitInBed` for the corners of a convex hull. */
export function fitPoints(points: Float32Array, bed: Vec3): BedFit {
  const asItIs = ratio(points, rowByRow(identity3), bed);
  const flat = flatFit(points, bed);
  const seen = [
    { m: rowByRow(identity3), value: asItIs },
    { m: rowByRow(flat.m), value: flat.value },
  ];
  const sparse = thinned(points, 400);
  for (const rotation of spreadRotations(3000)) {
    const m = rowByRow(rotation);
    seen.push({ m, value: ratio(sparse, m, bed) });
  }
  let best = seen[1];
  seen.sort((a, b) => b.value - a.value);
  for (const { m } of seen.slice(0, 20)) {
    const rough = climb(sparse, m, bed, 0.1);
    if (rough.value < 0.98 * best.value) continue;
    const top = climb(points, rough.m, bed, 1e-3);
    if (top.value > best.value) best = top;
  }
  const pose = asItIs >= enough ? identity3 : flat.value >= enough ? flat.m : asRows(best.m);
  return {
    fits: Math.max(asItIs, flat.value, best.value) >= enough,
    pose: { rotation: pose.map((row) => [...row]) },
    largestFactor: Math.max(best.value, flat.value),
    flatFactor: flat.value,
  };
}

/** Rotations spread evenly over all (super-Fibonacci spirals, Alexa 2022). */
export function spreadRotations(count: number): Mat3[] {
  return Array.from({ length: count }, (_, i) => {
    const s = i + 0.5;
    const r = Math.sqrt(s / count);
    const R = Math.sqrt(1 - s / count);
    const alpha = (2 * Math.PI * s) / Math.SQRT2;
    const beta = (2 * Math.PI * s) / 1.5337511687552043;
    return ofQuaternion(r * Math.sin(alpha), r * Math.cos(alpha), R * Math.sin(beta), R * Math.cos(beta));
  });
}

/** At most `most` hull corners: those farthest out along evenly spread directions. */
export function thinned(points: Float32Array, most: number): Float32Array {
  if (points.length / 3 <= most) return points;
  const chosen = new Set<number>();
  for (let i = 0; i < most; i++) {
    const z = 1 - (2 * (i + 0.5)) / most;
    const a = Math.PI * (3 - Math.sqrt(5)) * i;
    const r = Math.sqrt(1 - z * z);
    const [dx, dy] = [r * Math.cos(a), r * Math.sin(a)];
    let best = -Infinity;
    let at = 0;
    for (let p = 0; p < points.length; p += 3) {
      const v = dx * points[p] + dy * points[p + 1] + z * points[p + 2];
      if (v > best) {
        best = v;
        at = p;
      }
    }
    chosen.add(at);
  }
  const out = new Float32Array(3 * chosen.size);
  let n = 0;
  for (const p of chosen) for (let k = 0; k < 3; k++) out[n++] = points[p + k];
  return out;
}
