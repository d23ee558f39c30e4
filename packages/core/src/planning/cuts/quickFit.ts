import type { Mat3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import { spreadRotations, thinned } from '../bedFit.ts';

/** Turns looked at; a part that fits none of them even nearly is taken for one that does not fit. */
const turns = spreadRotations(500);
/** Points looked at, those farthest out. */
const mostPoints = 60;
/** Float32 rounding of a part cut exactly to the bed must not make it too large. */
const enough = 1 - 1e-5;

const permutations = [
  [0, 1, 2],
  [1, 0, 2],
  [0, 2, 1],
  [2, 1, 0],
  [1, 2, 0],
  [2, 0, 1],
] as const;

/**
 * Reach of points along the rows of a rotation.
 *
 * @param most a reach from which on the others do not matter: null is returned then
 */
export function extentsIn(points: Float32Array, rows: Mat3): Vec3;
export function extentsIn(points: Float32Array, rows: Mat3, most: number): Vec3 | null;
export function extentsIn(points: Float32Array, rows: Mat3, most = Infinity): Vec3 | null {
  const out: [number, number, number] = [0, 0, 0];
  for (let r = 0; r < 3; r++) {
    const [a, b, c] = rows[r];
    let lo = Infinity;
    let hi = -Infinity;
    for (let i = 0; i < points.length; i += 3) {
      const h = a * points[i] + b * points[i + 1] + c * points[i + 2];
      if (h < lo) lo = h;
      if (h > hi) hi = h;
    }
    out[r] = hi - lo;
    if (hi - lo >= most) return null;
  }
  return out;
}

/** How many cells of a room a box takes, lying whichever way needs the fewest. */
function cellsOfBox(size: Vec3, rooms: readonly Vec3[]): number {
  let best = Infinity;
  for (const room of rooms)
    for (const way of permutations) {
      let n = 1;
      for (let k = 0; k < 3; k++) n *= Math.max(1, Math.ceil(size[k] / room[way[k]] - 1e-5));
      if (n < best) best = n;
    }
  return best;
}

/** Share of whole cells in what a box is expected to take; the rest are rooms as it fills them, so that a cut which leaves little more than a room is told from one that leaves two. */
const wholeCells = 0.5;

/** How many parts a box is expected to come to: 1 where it fits, else more than one. */
export function partsOfBox(size: Vec3, rooms: readonly Vec3[]): number {
  let best = Infinity;
  for (const room of rooms)
    for (const way of permutations) {
      let cells = 1;
      let filled = 1;
      for (let k = 0; k < 3; k++) {
        const q = size[k] / room[way[k]] - 1e-5;
        cells *= Math.max(1, Math.ceil(q));
        filled *= Math.max(1, q);
      }
      if (cells === 1) return 1;
      const n = wholeCells * cells + (1 - wholeCells) * filled;
      if (n < best) best = n;
    }
  return best;
}

/** The sides of rooms, each room's from the shortest up. */
const sidesOf = (rooms: readonly Vec3[]): Float64Array =>
  Float64Array.from(rooms.flatMap((room) => [...room].sort((a, b) => a - b)));

/** By how much a box could be scaled to fit the best of the rooms: the shortest side along the shortest, and so on. */
function ratioIn([x, y, z]: Vec3, sides: Float64Array): number {
  const short = Math.min(x, y, z);
  const long = Math.max(x, y, z);
  const middle = Math.max(Math.min(x, y), Math.min(Math.max(x, y), z));
  let best = 0;
  for (let i = 0; i < sides.length; i += 3)
    best = Math.max(best, Math.min(sides[i] / short, sides[i + 1] / middle, sides[i + 2] / long));
  return best;
}

/** How near to fitting, as a ratio, a turn has to come to be turned on. */
const nearly = 0.9;

/**
 * Do points, a hull's or a skin's, fit one of the rooms in some pose? Quick and on the safe side: yes is certain, no may be wrong where only
 * a turn between those tried would do.
 *
 * @param frames rotations likely to do, tried first
 */
export function fitsQuickly(points: Float32Array, rooms: readonly Vec3[], frames: readonly Mat3[]): boolean {
  for (const rows of frames) if (cellsOfBox(extentsIn(points, rows), rooms) === 1) return true;
  const sparse = thinned(points, mostPoints);
  const longestSq = Math.max(...rooms.map(([x, y, z]) => x * x + y * y + z * z));
  for (let i = 0; i < sparse.length; i += 3)
    for (let j = i + 3; j < sparse.length; j += 3) {
      const x = sparse[i] - sparse[j];
      const y = sparse[i + 1] - sparse[j + 1];
      const z = sparse[i + 2] - sparse[j + 2];
      if (x * x + y * y + z * z > longestSq) return false;
    }
  const sides = sidesOf(rooms);
  const longestSide = Math.max(...sides);
  const near: { rows: Mat3; value: number }[] = [];
  for (const rows of turns) {
    const size = extentsIn(sparse, rows, longestSide / nearly);
    if (!size) continue;
    const value = ratioIn(size, sides);
    if (value > nearly) near.push({ rows, value });
  }
  near.sort((a, b) => b.value - a.value);
  for (const { rows, value } of near.slice(0, 3)) {
    let best = rows;
    let most = value;
    for (let step = 0.08; step > 2e-3; step /= 2)
      for (let again = true; again;) {
        again = false;
        for (let k = 0; k < 6; k++) {
          const tried = turnedAbout(best, k >> 1, k & 1 ? -step : step);
          const v = ratioIn(extentsIn(sparse, tried), sides);
          if (v > most + 1e-9) {
            most = v;
            best = tried;
            again = true;
          }
        }
      }
    if (most >= enough && cellsOfBox(extentsIn(points, best), rooms) === 1) return true;
  }
  return false;
}

/** Rows turned about an axis of the room by an angle, rad. */
function turnedAbout(rows: Mat3, axis: number, angle: number): Mat3 {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const p = (axis + 1) % 3;
  const q = (axis + 2) % 3;
  const out = [rows[0], rows[1], rows[2]] as [Vec3, Vec3, Vec3];
  out[p] = [0, 1, 2].map((k) => c * rows[p][k] - s * rows[q][k]) as unknown as Vec3;
  out[q] = [0, 1, 2].map((k) => s * rows[p][k] + c * rows[q][k]) as unknown as Vec3;
  return out;
}
