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
 */
export class Slicer {
  private readonly twin: Int32Array;
  private readonly low: Float32Array;
  private readonly high: Float32Array;
  private readonly exit: Int32Array;
  private readonly stamp: Int32Array;
  private turn = 0;

  constructor(readonly mesh: TriMesh) {
    this.twin = twinsOf(mesh);
    const n = triangleCount(mesh);
    this.low = new Float32Array(n);
    this.high = new Float32Array(n);
    this.exit = new Int32Array(n);
    this.stamp = new Int32Array(n);
    const { positions: p, triangles } = mesh;
    for (let t = 0; t < n; t++) {
      const a = p[3 * triangles[3 * t] + 2];
      const b = p[3 * triangles[3 * t + 1] + 2];
      const c = p[3 * triangles[3 * t + 2] + 2];
      this.low[t] = Math.min(a, b, c);
      this.high[t] = Math.max(a, b, c);
    }
  }

  /** The section at z through the triangles given (all, if left out). */
  at(z: number, among?: ArrayLike<number>): Section {
    const { mesh, low, high, exit, stamp, twin } = this;
    const { positions: p, triangles } = mesh;
    const turn = ++this.turn;
    const crossing: number[] = [];
    const n = among ? among.length : triangleCount(mesh);
    for (let i = 0; i < n; i++) {
      const t = among ? among[i] : i;
      if (!(low[t] < z && high[t] >= z)) continue;
      let out = -1;
      for (let k = 0; k < 3; k++) {
        const h = 3 * t + k;
        const from = p[3 * triangles[h] + 2] >= z;
        const to = p[3 * triangles[nextHalfEdge(h)] + 2] >= z;
        // with the body on the left of the section curve, the way out of a triangle is the edge that rises
        if (!from && to) out = h;
      }
      exit[t] = out;
      stamp[t] = turn;
      crossing.push(t);
    }
    const contours: Contour[] = [];
    let areaMm2 = 0;
    let perimeterMm = 0;
    for (const first of crossing) {
      if (stamp[first] !== turn) continue;
      // go back to the start of an open chain
      let start = first;
      for (let guard = 0; guard <= crossing.length; guard++) {
        const h = this.entry(start, z);
        const back = twin[h];
        if (back < 0) break;
        const s = (back / 3) | 0;
        if (stamp[s] !== turn || s === first) {
          start = s === first ? first : start;
          break;
        }
        start = s;
      }
      const points: number[] = [];
      const entry = this.entry(start, z);
      this.pointOn(entry, z, points);
      let t = start;
      let closed = false;
      for (;;) {
        stamp[t] = -turn;
        const h = exit[t];
        const across = twin[h];
        this.pointOn(h, z, points);
        if (across < 0) break;
        const next = (across / 3) | 0;
        if (next === start) {
          closed = true;
          points.length -= 2;
          break;
        }
        if (stamp[next] !== turn) break;
        t = next;
      }
      const contour = finish(points, closed);
      areaMm2 += contour.areaMm2;
      perimeterMm += contour.perimeterMm;
      contours.push(contour);
    }
    return { z, contours, areaMm2, perimeterMm };
  }

  private entry(t: number, z: number): number {
    const { positions: p, triangles } = this.mesh;
    for (let k = 0; k < 3; k++) {
      const h = 3 * t + k;
      if (p[3 * triangles[h] + 2] >= z && !(p[3 * triangles[nextHalfEdge(h)] + 2] >= z)) return h;
    }
    return 3 * t;
  }

  /** Where half-edge h meets z; computed from the lower vertex index on, so both sides give the same digits. */
  private pointOn(h: number, z: number, out: number[]): void {
    const { positions: p, triangles } = this.mesh;
    let a = triangles[h];
    let b = triangles[nextHalfEdge(h)];
    if (a > b) [a, b] = [b, a];
    const za = p[3 * a + 2];
    const s = (z - za) / (p[3 * b + 2] - za);
    out.push(p[3 * a] + s * (p[3 * b] - p[3 * a]), p[3 * a + 1] + s * (p[3 * b + 1] - p[3 * a + 1]));
  }

  /** Sections at rising heights by one sweep; `each` is called in order. */
  sweep(heights: ArrayLike<number>, each: (section: Section, index: number) => void): void {
    const n = triangleCount(this.mesh);
    const order = new Uint32Array(n);
    for (let t = 0; t < n; t++) order[t] = t;
    order.sort((a, b) => this.low[a] - this.low[b]);
    let active: number[] = [];
    let next = 0;
    for (let i = 0; i < heights.length; i++) {
      const z = heights[i];
      const still: number[] = [];
      for (const t of active) if (this.high[t] >= z) still.push(t);
      for (; next < n && this.low[order[next]] < z; next++) if (this.high[order[next]] >= z) still.push(order[next]);
      active = still;
      each(this.at(z, active), i);
    }
  }
}

function finish(points: number[], closed: boolean): Contour {
  let area = 0;
  let perimeter = 0;
  const n = points.length / 2;
  for (let i = 0; i < n; i++) {
    const j = i + 1 < n ? i + 1 : 0;
    // the closing chord of an open chain counts for the area and not for the perimeter
    area += points[2 * i] * points[2 * j + 1] - points[2 * j] * points[2 * i + 1];
    if (j !== 0 || closed)
      perimeter += Math.hypot(points[2 * j] - points[2 * i], points[2 * j + 1] - points[2 * i + 1]);
  }
  return { points: Float64Array.from(points), closed, areaMm2: area / 2, perimeterMm: perimeter };
}
