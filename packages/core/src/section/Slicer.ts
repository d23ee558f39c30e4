import { twinsOf } from '../mesh/edges.ts';
import { nextHalfEdge, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';

/**
 * One closed or open curve of a planar section: x, y per point. Outer curves turn counter-clockwise, holes clockwise.
 */
export interface Contour {
  points: Float64Array;
  closed: boolean;
  /** signed, mm2: negative for holes */
  areaMm2: number;
  perimeterMm: number;
  /** x0, y0, x1, y1 */
  box: [number, number, number, number];
}

export interface Section {
  z: number;
  contours: Contour[];
  areaMm2: number;
  perimeterMm: number;
}

/**
 * Cuts a mesh by planes z = constant. Triangles are bucketed once; contours are linked through edge twins, so equal
 * coordinates never decide what joins what. A vertex on the plane counts as above it, which stands for an infinitely
 * small shift and leaves no special cases.
 *
 * Per triangle: `low` and `high` are its reach in z; while it is cut, `enter` and `exit` are the half-edges by which the
 * curve comes in and goes out, and `stamp` the number of the cut, negative once the curve has passed.
 */
export class Slicer {
  private readonly twin: Int32Array;
  private readonly low: Float32Array;
  private readonly high: Float32Array;
  private readonly enter: Int32Array;
  private readonly exit: Int32Array;
  private readonly stamp: Int32Array;
  /** triangles of the cut under way */
  private readonly cut: Uint32Array;
  private points = new Float64Array(4096);
  /** does the mesh end anywhere? Then a curve may be an open chain, and its start is looked for */
  private readonly open: boolean;
  private turn = 0;

  constructor(readonly mesh: TriMesh) {
    this.twin = twinsOf(mesh);
    const n = triangleCount(mesh);
    this.low = new Float32Array(n);
    this.high = new Float32Array(n);
    this.enter = new Int32Array(n);
    this.exit = new Int32Array(n);
    this.stamp = new Int32Array(n);
    this.cut = new Uint32Array(n);
    const { positions: p, triangles } = mesh;
    for (let t = 0; t < n; t++) {
      const a = p[3 * triangles[3 * t] + 2];
      const b = p[3 * triangles[3 * t + 1] + 2];
      const c = p[3 * triangles[3 * t + 2] + 2];
      this.low[t] = a < b ? (a < c ? a : c) : b < c ? b : c;
      this.high[t] = a > b ? (a > c ? a : c) : b > c ? b : c;
    }
    this.open = this.twin.some((h) => h < 0);
  }

  /** The section at z through the triangles given (all, if left out). */
  at(z: number, among?: ArrayLike<number>, count = among ? among.length : triangleCount(this.mesh)): Section {
    const { mesh, low, high, enter, exit, stamp, cut } = this;
    const { positions: p, triangles } = mesh;
    const turn = ++this.turn;
    let used = 0;
    for (let i = 0; i < count; i++) {
      const t = among ? among[i] : i;
      if (!(low[t] < z && high[t] >= z)) continue;
      const h = 3 * t;
      const a = p[3 * triangles[h] + 2] >= z;
      const b = p[3 * triangles[h + 1] + 2] >= z;
      const c = p[3 * triangles[h + 2] + 2] >= z;
      // with the body on the left of the section curve, it leaves a triangle by the edge that rises
      exit[t] = !a && b ? h : !b && c ? h + 1 : h + 2;
      enter[t] = a && !b ? h : b && !c ? h + 1 : h + 2;
      stamp[t] = turn;
      cut[used++] = t;
    }
    const contours: Contour[] = [];
    let areaMm2 = 0;
    let perimeterMm = 0;
    for (let i = 0; i < used; i++) {
      if (stamp[cut[i]] !== turn) continue;
      const contour = this.follow(this.open ? this.startOf(cut[i], turn, used) : cut[i], z, turn);
      areaMm2 += contour.areaMm2;
      perimeterMm += contour.perimeterMm;
      contours.push(contour);
    }
    return { z, contours, areaMm2, perimeterMm };
  }

  /** The first triangle of the chain that a triangle is in; itself where the chain is closed. */
  private startOf(first: number, turn: number, most: number): number {
    let start = first;
    for (let guard = 0; guard <= most; guard++) {
      const back = this.twin[this.enter[start]];
      if (back < 0) break;
      const s = (back / 3) | 0;
      if (s === first) return first;
      if (this.stamp[s] !== turn) break;
      start = s;
    }
    return start;
  }

  /** The curve from a triangle on, its area and length summed on the way. */
  private follow(start: number, z: number, turn: number): Contour {
    const { exit, stamp, twin } = this;
    let n = this.pointOn(this.enter[start], z, 0);
    let closed = false;
    for (let t = start; ;) {
      stamp[t] = -turn;
      const across = twin[exit[t]];
      const next = across < 0 ? -1 : (across / 3) | 0;
      if (next === start) {
        closed = true;
        break;
      }
      n = this.pointOn(exit[t], z, n);
      if (next < 0 || stamp[next] !== turn) break;
      t = next;
    }
    const points = this.points.slice(0, n);
    // about the first point, so that small curves far from the origin keep their digits
    const [ox, oy] = points;
    let area = 0;
    let perimeter = 0;
    let [x0, y0, x1, y1] = [ox, oy, ox, oy];
    let x = points[n - 2];
    let y = points[n - 1];
    for (let i = 0; i < n; i += 2) {
      const u = points[i];
      const v = points[i + 1];
      area += (x - ox) * (v - oy) - (u - ox) * (y - oy);
      // the closing chord of an open chain counts for the area and not for the perimeter
      if (i > 0 || closed) perimeter += Math.sqrt((u - x) * (u - x) + (v - y) * (v - y));
      if (u < x0) x0 = u;
      else if (u > x1) x1 = u;
      if (v < y0) y0 = v;
      else if (v > y1) y1 = v;
      x = u;
      y = v;
    }
    return { points, closed, areaMm2: area / 2, perimeterMm: perimeter, box: [x0, y0, x1, y1] };
  }

  /**
   * Writes where half-edge h meets z at place n of the scratch points and returns the next place. Computed from the lower
   * vertex index on, so both sides give the same digits.
   */
  private pointOn(h: number, z: number, n: number): number {
    const { positions: p, triangles } = this.mesh;
    let a = triangles[h];
    let b = triangles[nextHalfEdge(h)];
    if (a > b) [a, b] = [b, a];
    if (n + 2 > this.points.length) {
      const larger = new Float64Array(2 * this.points.length);
      larger.set(this.points);
      this.points = larger;
    }
    const za = p[3 * a + 2];
    const s = (z - za) / (p[3 * b + 2] - za);
    this.points[n] = p[3 * a] + s * (p[3 * b] - p[3 * a]);
    this.points[n + 1] = p[3 * a + 1] + s * (p[3 * b + 1] - p[3 * a + 1]);
    return n + 2;
  }

  /** Sections at rising heights by one sweep; `each` is called in order. */
  sweep(heights: ArrayLike<number>, each: (section: Section, index: number) => void): void {
    const { low, high } = this;
    const n = low.length;
    // triangles by the first height that cuts them, counted and placed; `until` is the first that no longer does
    const first = new Int32Array(n);
    const until = new Int32Array(n);
    const start = new Uint32Array(heights.length + 2);
    for (let t = 0; t < n; t++) {
      first[t] = firstAbove(heights, low[t]);
      until[t] = firstAbove(heights, high[t]);
      if (until[t] > first[t]) start[first[t] + 1]++;
    }
    for (let i = 0; i <= heights.length; i++) start[i + 1] += start[i];
    const order = new Uint32Array(start[heights.length + 1]);
    const place = start.slice();
    for (let t = 0; t < n; t++) if (until[t] > first[t]) order[place[first[t]]++] = t;
    const active = new Uint32Array(order.length);
    let count = 0;
    for (let i = 0; i < heights.length; i++) {
      let still = 0;
      for (let k = 0; k < count; k++) if (until[active[k]] > i) active[still++] = active[k];
      for (let k = start[i]; k < start[i + 1]; k++) active[still++] = order[k];
      count = still;
      each(this.at(heights[i], active, count), i);
    }
  }
}

/** Index of the first of the rising heights that lies above a value. */
export function firstAbove(heights: ArrayLike<number>, value: number): number {
  let lo = 0;
  let hi = heights.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (heights[mid] > value) hi = mid;
    else lo = mid + 1;
  }
  return lo;
}
