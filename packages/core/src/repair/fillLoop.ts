import { triangulatePolygon } from '../formats/polygon.ts';

/** Loops up to this length get the minimum-area triangulation, whose time grows with the cube of the length. */
const exactLimit = 320;

/**
 * Closes a loop of points with triangles between them alone.
 *
 * Short loops: the triangulation of least area by dynamic programming (Barequet and Sharir 1995). Longer ones: ears
 * clipped in the plane of the loop's normal, or where that plane folds the loop over itself, the sharpest ear first in
 * space. `null` when none of these can avoid a chord that `taken` forbids.
 *
 * @param points x, y, z per corner, in walking order
 * @param taken is there already an edge between corners i and j?
 * @returns corner numbers, three a triangle, walking the loop's own way round
 */
export function fillLoop(points: Float64Array, taken: (i: number, j: number) => boolean): number[] | null {
  const n = points.length / 3;
  if (n < 3) return null;
  if (n === 3) return [0, 1, 2];
  return n <= exactLimit ? leastArea(points, taken) : (clipped(points, taken) ?? sharpestFirst(points, taken));
}

function leastArea(p: Float64Array, taken: (i: number, j: number) => boolean): number[] | null {
  const n = p.length / 3;
  const cost = new Float64Array(n * n);
  const apex = new Int16Array(n * n);
  const area = (a: number, b: number, c: number): number => {
    const ux = p[3 * b] - p[3 * a];
    const uy = p[3 * b + 1] - p[3 * a + 1];
    const uz = p[3 * b + 2] - p[3 * a + 2];
    const vx = p[3 * c] - p[3 * a];
    const vy = p[3 * c + 1] - p[3 * a + 1];
    const vz = p[3 * c + 2] - p[3 * a + 2];
    const x = uy * vz - uz * vy;
    const y = uz * vx - ux * vz;
    const z = ux * vy - uy * vx;
    return Math.sqrt(x * x + y * y + z * z);
  };
  for (let span = 2; span < n; span++)
    for (let i = 0; i + span < n; i++) {
      const j = i + span;
      let best = Infinity;
      let at = -1;
      if (span === n - 1 || !taken(i, j))
        for (let k = i + 1; k < j; k++) {
          const c = cost[i * n + k] + cost[k * n + j];
          if (c < best) {
            const whole = c + area(i, k, j);
            if (whole < best) {
              best = whole;
              at = k;
            }
          }
        }
      cost[i * n + j] = best;
      apex[i * n + j] = at;
    }
  if (!Number.isFinite(cost[n - 1])) return null;
  return trianglesOf(apex, n);
}

/** Triangles of a triangulation, from the corner that stands on each chord i-j (at i n + j, i < j). */
export function trianglesOf(apex: Int16Array, n: number): number[] {
  const out: number[] = [];
  const stack = [0, n - 1];
  while (stack.length > 0) {
    const j = stack.pop()!;
    const i = stack.pop()!;
    if (j - i < 2) continue;
    const k = apex[i * n + j];
    out.push(i, k, j);
    stack.push(i, k, k, j);
  }
  return out;
}

function clipped(p: Float64Array, taken: (i: number, j: number) => boolean): number[] | null {
  const n = p.length / 3;
  const out = triangulatePolygon(p);
  if (out.length !== 3 * (n - 2)) return null;
  const fan = out.every((c, i) => i % 3 !== 0 || c === 0) && out[1] === 1 && out[2] === 2 && out[4] === 2;
  if (fan) return null;
  for (let i = 0; i < out.length; i++) {
    const a = out[i];
    const b = out[i % 3 === 2 ? i - 2 : i + 1];
    const step = Math.abs(a - b);
    if (step !== 1 && step !== n - 1 && taken(a, b)) return null;
  }
  return out;
}

/** Cuts off the corner with the sharpest angle again and again, whatever plane it lies in. */
function sharpestFirst(p: Float64Array, taken: (i: number, j: number) => boolean): number[] | null {
  const n = p.length / 3;
  const before = Int32Array.from({ length: n }, (_, i) => (i + n - 1) % n);
  const after = Int32Array.from({ length: n }, (_, i) => (i + 1) % n);
  const cosine = (i: number): number => {
    const [a, c] = [before[i], after[i]];
    const u = [0, 1, 2].map((k) => p[3 * a + k] - p[3 * i + k]);
    const v = [0, 1, 2].map((k) => p[3 * c + k] - p[3 * i + k]);
    const d = Math.hypot(...u) * Math.hypot(...v);
    return d > 0 ? (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / d : 1;
  };
  // sharpness in 256 drawers, the sharpest corner being taken from the fullest drawer that is not empty
  const drawers: number[][] = Array.from({ length: 256 }, () => []);
  const put = (i: number) => drawers[Math.min(255, Math.max(0, Math.floor(128 * (1 - cosine(i)))))].push(i);
  const live = new Uint8Array(n).fill(1);
  for (let i = 0; i < n; i++) put(i);
  const made = new Set<number>();
  const key = (a: number, b: number) => (a < b ? a * n + b : b * n + a);
  const out: number[] = [];
  let left = n;
  for (let d = 0; d < 256 && left > 3;) {
    const i = drawers[d].shift();
    if (i === undefined) {
      d++;
      continue;
    }
    if (!live[i] || Math.min(255, Math.max(0, Math.floor(128 * (1 - cosine(i))))) !== d) continue;
    const [a, c] = [before[i], after[i]];
    // barred for now: it comes back when a neighbour goes
    if (taken(a, c) || made.has(key(a, c))) continue;
    out.push(a, i, c);
    made.add(key(a, c));
    live[i] = 0;
    after[a] = c;
    before[c] = a;
    left--;
    put(a);
    put(c);
    d = 0;
  }
  if (left > 3) return null;
  const i = live.indexOf(1);
  out.push(before[i], i, after[i]);
  return out;
}
