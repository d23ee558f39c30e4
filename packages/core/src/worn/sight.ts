import { treeOf } from '../mesh/Bvh.ts';
import type { RunContext } from '../run/context.ts';
import { cross, dot, normalize, vec3 } from '../mesh/transform.ts';
import { diagonalOf, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';

/** Degrees between directions looked along. */
const stepDeg = 1;
const rad = Math.PI / 180;

/** What is free to see from a point, by directions: azimuth from straight ahead (left positive), then height. */
export interface Sight {
  /** degrees free without a break from straight ahead; 0 all round when straight ahead is blocked */
  leftDeg: number;
  rightDeg: number;
  upDeg: number;
  downDeg: number;
  /** share that is free of the half-space ahead, percent */
  freePct: number;
}

export interface FieldOfView {
  left: Sight;
  right: Sight;
  /** seen by one eye or the other */
  both: Sight;
  /** the same without the piece: what brow, nose and cheeks leave */
  bare: Sight;
}

export interface Opening {
  /** middle of its rim, mm */
  at: Vec3;
  areaMm2: number;
  /** across, seen from where it was measured, degrees */
  widthDeg: number;
  /** does it lie ahead, within 60 degrees of straight on? */
  ahead: boolean;
}

/** Direction of an azimuth and a height, degrees, for someone who looks to -y with the left at +x. */
export const direction = (azimuth: number, height: number): Vec3 => [
  Math.sin(azimuth * rad) * Math.cos(height * rad),
  -Math.cos(azimuth * rad) * Math.cos(height * rad),
  Math.sin(height * rad),
];

/** Looks along every direction ahead; 1 where nothing of the meshes stands in the way. */
class View {
  static readonly most = 90 / stepDeg;
  static readonly side = 2 * View.most + 1;
  readonly free = new Uint8Array(View.side * View.side);

  constructor(meshes: TriMesh[], eye: Vec3, context: RunContext) {
    for (let j = 0; j < View.side; j++) {
      context.checkCancelled();
      for (let i = 0; i < View.side; i++) {
        const d = direction((i - View.most) * stepDeg, (j - View.most) * stepDeg);
        this.free[i + View.side * j] = meshes.some((m) => treeOf(m).isBlocked(eye, d, 1e-3)) ? 0 : 1;
      }
    }
  }
}

function sightOf(free: Uint8Array): Sight {
  const { most, side } = View;
  const run = (di: number, dj: number): number => {
    let n = 0;
    while (n <= most && free[most + n * di + side * (most + n * dj)] === 1) n++;
    return Math.max(0, n - 1) * stepDeg + (n > 0 && n <= most ? stepDeg / 2 : 0);
  };
  let open = 0;
  let all = 0;
  for (let j = 0; j < side; j++) {
    const weight = Math.cos((j - most) * stepDeg * rad);
    for (let i = 0; i < side; i++) {
      all += weight;
      if (free[i + side * j]) open += weight;
    }
  }
  return {
    leftDeg: run(1, 0),
    rightDeg: run(-1, 0),
    upDeg: run(0, 1),
    downDeg: run(0, -1),
    freePct: (100 * open) / all,
  };
}

const either = (a: Uint8Array, b: Uint8Array): Uint8Array => a.map((v, i) => v | b[i]);

/**
 * Field of view through a piece from both eyes, each direction a degree apart, straight ahead being -y of the body.
 *
 * @param piece and `body` in the same place; the eyes stand just off the body's skin
 */
export function fieldOfView(
  piece: TriMesh,
  body: TriMesh,
  eyes: { left: Vec3; right: Vec3 },
  context: RunContext,
): FieldOfView {
  const look = (eye: Vec3, meshes: TriMesh[]) => new View(meshes, eye, context).free;
  const bareLeft = look(eyes.left, [body]);
  const bareRight = look(eyes.right, [body]);
  const through = (eye: Vec3, bare: Uint8Array) => {
    const seen = look(eye, [piece]);
    return seen.map((v, i) => v & bare[i]);
  };
  const left = through(eyes.left, bareLeft);
  const right = through(eyes.right, bareRight);
  return {
    left: sightOf(left),
    right: sightOf(right),
    both: sightOf(either(left, right)),
    bare: sightOf(either(bareLeft, bareRight)),
  };
}

/**
 * Openings of a piece seen from a point inside it, each with the area of the flat that lies best in its rim. Directions all
 * round are looked along a degree apart; what hangs together and meets nothing is an opening; its rim is where the blocked
 * directions next to it end. The area is the sum of r^2 / cos over the free directions up to that flat, which is exact for
 * flat openings as the step gets small.
 */
export function openingsFrom(piece: TriMesh, from: Vec3, context: RunContext): Opening[] {
  const tree = treeOf(piece);
  const around = 360 / stepDeg;
  const levels = 180 / stepDeg;
  const start = 1e-6 * diagonalOf(piece);
  const cellDirection = (c: number): Vec3 =>
    direction(((c % around) + 0.5) * stepDeg - 180, (Math.floor(c / around) + 0.5) * stepDeg - 90);
  const reach = new Float32Array(around * levels);
  for (let c = 0; c < reach.length; c++) {
    if (c % 512 === 0) context.checkCancelled();
    reach[c] = tree.firstHit(from, cellDirection(c), start);
  }
  const beside = (c: number): number[] => {
    const i = c % around;
    const j = Math.floor(c / around);
    const out = [j * around + ((i + 1) % around), j * around + ((i + around - 1) % around)];
    if (j > 0) out.push(c - around);
    if (j < levels - 1) out.push(c + around);
    return out;
  };
  const seen = new Uint8Array(reach.length);
  const openings: Opening[] = [];
  for (let first = 0; first < reach.length; first++) {
    if (seen[first] || Number.isFinite(reach[first])) continue;
    const cells: number[] = [];
    const rim = new Set<number>();
    const stack = [first];
    seen[first] = 1;
    while (stack.length > 0) {
      const c = stack.pop()!;
      cells.push(c);
      for (const d of beside(c))
        if (Number.isFinite(reach[d])) rim.add(d);
        else if (!seen[d]) {
          seen[d] = 1;
          stack.push(d);
        }
    }
    if (rim.size < 3) continue;
    const points = [...rim].map((c) => {
      const d = cellDirection(c);
      return vec3((k) => from[k] + reach[c] * d[k]);
    });
    const middle = vec3((k) => points.reduce((sum, p) => sum + p[k], 0) / points.length);
    const normal = flatThrough(points, middle);
    const height = dot(normal, middle) - dot(normal, from);
    const farthest = Math.max(...points.map((p) => Math.hypot(p[0] - from[0], p[1] - from[1], p[2] - from[2])));
    let area = 0;
    let solid = 0;
    for (const c of cells) {
      const d = cellDirection(c);
      const cosine = dot(normal, d);
      const weight = Math.cos((Math.floor(c / around) + 0.5 - 90 / stepDeg) * stepDeg * rad) * (stepDeg * rad) ** 2;
      solid += weight;
      const r = height / cosine;
      // beyond the rim the flat says nothing
      if (r > 0 && r < 1.5 * farthest) area += (r * r * weight) / Math.abs(cosine);
    }
    const towards = normalize(vec3((k) => middle[k] - from[k]));
    openings.push({
      at: middle,
      areaMm2: area,
      // cap of the same solid angle
      widthDeg: (2 * Math.acos(Math.max(-1, 1 - solid / (2 * Math.PI)))) / rad,
      ahead: -towards[1] > 0.5,
    });
  }
  return openings.filter((o) => o.areaMm2 > 0).sort((a, b) => b.areaMm2 - a.areaMm2);
}

/** Unit normal of the plane through points that fits best: the direction in which they spread least, by inverse iteration. */
function flatThrough(points: Vec3[], middle: Vec3): Vec3 {
  const m = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => points.reduce((sum, p) => sum + (p[i] - middle[i]) * (p[j] - middle[j]), 0)),
  );
  const lift = 1e-9 * (m[0][0] + m[1][1] + m[2][2]) + 1e-30;
  for (let k = 0; k < 3; k++) m[k][k] += lift;
  const rows = m as unknown as [Vec3, Vec3, Vec3];
  // the inverse of a symmetric matrix, by the cross products of its rows
  const [a, b, c] = [cross(rows[1], rows[2]), cross(rows[2], rows[0]), cross(rows[0], rows[1])];
  let n: Vec3 = normalize([0.3, 0.5, 0.8]);
  for (let i = 0; i < 60; i++) n = normalize(vec3((k) => a[k] * n[0] + b[k] * n[1] + c[k] * n[2]));
  return n;
}
