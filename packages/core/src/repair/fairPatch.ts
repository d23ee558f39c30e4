import { EnvelopeCholesky } from './EnvelopeCholesky.ts';

/**
 * A patch over a hole: `points` x, y, z per vertex, the loop's corners first, and three vertex numbers a triangle.
 */
export interface Patch {
  points: number[];
  triangles: number[];
  /** corners of the loop, the first vertices of the patch, which do not move */
  rim: number;
}

/** Interior points stand this much farther apart ring by ring, so that large patches stay light. */
const growth = 1.25;
const mostPoints = 12_000;

/**
 * Splits triangles of a patch until its points stand about as far apart as those of its rim, swapping edges so that
 * triangles stay well shaped (Liepa 2003).
 *
 * @param barred is there an edge between two corners of the rim already?
 */
export function refinePatch(patch: Patch, barred: (i: number, j: number) => boolean): Patch {
  const { points, triangles, rim } = patch;
  const scale: number[] = new Array(rim).fill(0) as number[];
  const far = (i: number, j: number) =>
    Math.hypot(
      points[3 * i] - points[3 * j],
      points[3 * i + 1] - points[3 * j + 1],
      points[3 * i + 2] - points[3 * j + 2],
    );
  for (let i = 0; i < rim; i++) scale[i] = (far(i, (i + 1) % rim) + far(i, (i + rim - 1) % rim)) / 2;
  const edges = new EdgeSides(triangles);
  for (let round = 0; round < 24; round++) {
    const before = points.length;
    const n = triangles.length / 3;
    for (let t = 0; t < n && points.length < 3 * mostPoints; t++) {
      const v = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
      const c = [0, 1, 2].map((k) => (points[3 * v[0] + k] + points[3 * v[1] + k] + points[3 * v[2] + k]) / 3);
      const own = (growth * (scale[v[0]] + scale[v[1]] + scale[v[2]])) / 3;
      const wide = v.every((i) => {
        const d = Math.SQRT2 * Math.hypot(c[0] - points[3 * i], c[1] - points[3 * i + 1], c[2] - points[3 * i + 2]);
        return d > own && d > scale[i];
      });
      if (!wide) continue;
      const m = points.length / 3;
      points.push(c[0], c[1], c[2]);
      scale.push(own);
      edges.split(t, m);
    }
    for (let pass = 0; pass < 12; pass++) if (edges.relax(points, rim, barred) === 0) break;
    if (points.length === before) break;
  }
  return patch;
}

/** Triangles of a small mesh with the two triangles at each inner edge; both are kept up as it changes. */
class EdgeSides {
  private readonly sides = new Map<number, [number, number]>();

  constructor(readonly triangles: number[]) {
    for (let t = 0; t < triangles.length / 3; t++) this.add(t);
  }

  private key(a: number, b: number): number {
    return a < b ? a * 0x4000000 + b : b * 0x4000000 + a;
  }

  private add(t: number): void {
    for (let k = 0; k < 3; k++) {
      const key = this.key(this.triangles[3 * t + k], this.triangles[3 * t + ((k + 1) % 3)]);
      const s = this.sides.get(key);
      if (!s) this.sides.set(key, [t, -1]);
      else if (s[0] < 0) s[0] = t;
      else s[1] = t;
    }
  }

  private remove(t: number): void {
    for (let k = 0; k < 3; k++) {
      const key = this.key(this.triangles[3 * t + k], this.triangles[3 * t + ((k + 1) % 3)]);
      const s = this.sides.get(key)!;
      if (s[0] === t) s[0] = s[1];
      s[1] = -1;
      if (s[0] < 0) this.sides.delete(key);
    }
  }

  split(t: number, m: number): void {
    const [a, b, c] = this.triangles.slice(3 * t, 3 * t + 3);
    this.remove(t);
    this.triangles[3 * t + 2] = m;
    const n = this.triangles.length / 3;
    this.triangles.push(b, c, m, c, a, m);
    this.add(t);
    this.add(n);
    this.add(n + 1);
  }

  /** Swaps inner edges whose opposite angles add up to more than half a turn. */
  relax(points: number[], rim: number, barred: (i: number, j: number) => boolean): number {
    let swapped = 0;
    const { triangles, sides } = this;
    const cosine = (at: number, a: number, b: number): number => {
      const ux = points[3 * a] - points[3 * at];
      const uy = points[3 * a + 1] - points[3 * at + 1];
      const uz = points[3 * a + 2] - points[3 * at + 2];
      const vx = points[3 * b] - points[3 * at];
      const vy = points[3 * b + 1] - points[3 * at + 1];
      const vz = points[3 * b + 2] - points[3 * at + 2];
      const d = Math.hypot(ux, uy, uz) * Math.hypot(vx, vy, vz);
      return d > 0 ? (ux * vx + uy * vy + uz * vz) / d : 1;
    };
    for (const [key, [s, t]] of [...sides]) {
      const now = sides.get(key);
      if (!now || now[0] !== s || now[1] !== t || t < 0) continue;
      const a = Math.floor(key / 0x4000000);
      const b = key % 0x4000000;
      const opposite = (f: number) => {
        for (let k = 0; k < 3; k++)
          if (triangles[3 * f + k] !== a && triangles[3 * f + k] !== b) return triangles[3 * f + k];
        return -1;
      };
      const c = opposite(s);
      const d = opposite(t);
      if (c === d || sides.has(this.key(c, d)) || (c < rim && d < rim && barred(c, d))) continue;
      const angles =
        Math.acos(Math.max(-1, Math.min(1, cosine(c, a, b)))) + Math.acos(Math.max(-1, Math.min(1, cosine(d, a, b))));
      if (angles <= Math.PI + 1e-6) continue;
      // s runs a..b in its own way round: keep that
      const k = [0, 1, 2].find((q) => triangles[3 * s + q] !== c && triangles[3 * s + ((q + 1) % 3)] !== c)!;
      const from = triangles[3 * s + k];
      const to = triangles[3 * s + ((k + 1) % 3)];
      this.remove(s);
      this.remove(t);
      triangles.splice(3 * s, 3, c, from, d);
      triangles.splice(3 * t, 3, d, to, c);
      this.add(s);
      this.add(t);
      swapped++;
    }
    return swapped;
  }
}

/** Triangles of the mesh at the rim of a patch: numbers below `rim` are corners of the rim, the rest count `points`. */
export interface Skirt {
  points: number[];
  triangles: number[];
}

/**
 * Moves the inner points of a patch to the surface of least bending that runs on smoothly from its surroundings: the
 * squared Laplacian with cotangent weights, summed over the patch and its rim (after Botsch and Kobbelt 2004). The
 * weights are taken anew from each result, so that a patch over a cap of a sphere bulges as the sphere does.
 */
export function fairPatch(patch: Patch, skirt: Skirt): void {
  const { points, rim } = patch;
  const n = points.length / 3;
  const inner = n - rim;
  if (inner === 0) return;
  const all = Float64Array.from([...points, ...skirt.points]);
  const triangles = Uint32Array.from([...patch.triangles, ...skirt.triangles.map((v) => (v < rim ? v : n + v - rim))]);
  const cells: Map<number, number>[] = Array.from({ length: n }, () => new Map<number, number>());
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [triangles[t + k], triangles[t + ((k + 1) % 3)]];
      if (a < n) cells[a].set(b, 0);
      if (b < n) cells[b].set(a, 0);
    }
  const start = new Uint32Array(n + 1);
  for (let v = 0; v < n; v++) start[v + 1] = start[v] + cells[v].size;
  const to = new Uint32Array(start[n]);
  const weight = new Float64Array(start[n]);
  const own = new Float64Array(n);
  for (let v = 0; v < n; v++) {
    let i = start[v];
    for (const u of cells[v].keys()) {
      cells[v].set(u, i);
      to[i++] = u;
    }
  }
  // a row of the equations holds a vertex and those beside it
  const group = new Int32Array(1 + Math.max(0, ...cells.map((c) => c.size)));
  const value = new Float64Array(group.length);
  const row = (v: number): number => {
    let length = 0;
    if (v >= rim) {
      group[length] = v - rim;
      value[length++] = -own[v];
    }
    for (let i = start[v]; i < start[v + 1]; i++)
      if (to[i] >= rim && to[i] < n) {
        group[length] = to[i] - rim;
        value[length++] = weight[i];
      }
    return length;
  };
  const equations = new EnvelopeCholesky(inner, (visit) => {
    for (let v = 0; v < n; v++) visit(group, row(v));
  });
  const rounds = Math.max(1, Math.min(fairRounds, Math.floor(mostWork / equations.cost)));
  for (let round = 0; round < rounds; round++) {
    weigh(all, triangles, n, cells, start, weight, own);
    equations.clear();
    const right = [new Float64Array(inner), new Float64Array(inner), new Float64Array(inner)];
    for (let v = 0; v < n; v++) {
      const length = row(v);
      for (let i = 0; i < length; i++)
        for (let j = 0; j <= i; j++) equations.add(group[i], group[j], value[i] * value[j]);
      for (let k = 0; k < 3; k++) {
        let fixed = v < rim ? -own[v] * all[3 * v + k] : 0;
        for (let i = start[v]; i < start[v + 1]; i++)
          if (to[i] < rim || to[i] >= n) fixed += weight[i] * all[3 * to[i] + k];
        for (let i = 0; i < length; i++) right[k][group[i]] -= value[i] * fixed;
      }
    }
    if (!equations.factor()) break;
    let moved = 0;
    let size = 0;
    for (let k = 0; k < 3; k++) {
      const x = right[k];
      equations.solve(x);
      for (let i = 0; i < inner; i++) {
        moved = Math.max(moved, Math.abs(x[i] - all[3 * (rim + i) + k]));
        all[3 * (rim + i) + k] = x[i];
      }
      for (let i = 0; i < rim; i++) size = Math.max(size, Math.abs(all[3 * i + k] - all[k]));
    }
    if (moved < 2e-3 * size) break;
  }
  for (let i = 3 * rim; i < 3 * n; i++) points[i] = all[i];
}

const fairRounds = 25;
/** Rounds are fewer where all of them would take more multiplications than this. */
const mostWork = 2e9;

/** Fills in cotangent weights over the root of each vertex's area, and their sums. */
function weigh(
  p: Float64Array,
  triangles: Uint32Array,
  n: number,
  cells: Map<number, number>[],
  start: Uint32Array,
  weight: Float64Array,
  own: Float64Array,
): void {
  weight.fill(0);
  const area = new Float64Array(n);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = triangles[t + k];
      const b = triangles[t + ((k + 1) % 3)];
      const c = triangles[t + ((k + 2) % 3)];
      const ux = p[3 * a] - p[3 * c];
      const uy = p[3 * a + 1] - p[3 * c + 1];
      const uz = p[3 * a + 2] - p[3 * c + 2];
      const vx = p[3 * b] - p[3 * c];
      const vy = p[3 * b + 1] - p[3 * c + 1];
      const vz = p[3 * b + 2] - p[3 * c + 2];
      const double = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
      // thin triangles would otherwise rule the sum
      const cot = Math.min(20, Math.max(0.02, (ux * vx + uy * vy + uz * vz) / (double || 1e-30))) / 2;
      if (a < n) {
        weight[cells[a].get(b)!] += cot;
        area[a] += double / 6;
      }
      if (b < n) weight[cells[b].get(a)!] += cot;
    }
  for (let v = 0; v < n; v++) {
    const s = 1 / Math.sqrt(area[v] || 1e-30);
    own[v] = 0;
    for (let i = start[v]; i < start[v + 1]; i++) {
      weight[i] *= s;
      own[v] += weight[i];
    }
  }
}
