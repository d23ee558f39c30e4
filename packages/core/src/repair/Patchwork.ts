import { GrowableFloats, GrowableIndices } from '../mesh/Growable.ts';
import { Bvh, treeOf } from '../mesh/Bvh.ts';
import type { RunContext } from '../run/context.ts';
import { edgesOf, originOf, starsOf, targetOf } from '../mesh/edges.ts';
import { triangleArea } from '../mesh/measures.ts';
import { PointTable } from '../mesh/PointTable.ts';
import { trianglesMeet } from '../mesh/triangleMeet.ts';
import { triangleCount, vertexCount, type TriMesh } from '../mesh/TriMesh.ts';
import { fillHoles } from './fillHoles.ts';
import { separateSheets } from './separateSheets.ts';

/**
 * A mesh in which a few places are taken out and closed again. Work and tests stay in the neighbourhood of what changes;
 * triangles that stay keep their numbers until `taken`.
 */
export class Patchwork {
  private readonly points: GrowableFloats;
  private readonly corners: GrowableIndices;
  private readonly gone: Uint8Array;
  private goneCount = 0;
  /** triangles beyond the first mesh's, by corner */
  private readonly added = new Map<number, number[]>();
  /** those of them that have gone again */
  private readonly lost = new Set<number>();
  /** how far copies of a vertex are drawn apart where sheets are parted, mm */
  private readonly gap: number;

  constructor(
    private readonly base: TriMesh,
    scale: number,
  ) {
    this.points = new GrowableFloats(base.positions.length + 3072);
    this.points.data.set(base.positions);
    this.points.length = base.positions.length;
    this.corners = new GrowableIndices(base.triangles.length + 3072);
    this.corners.data.set(base.triangles);
    this.corners.length = base.triangles.length;
    this.gone = new Uint8Array(triangleCount(base));
    this.gap = 2e-5 * scale;
  }

  /** Triangles that are there now. */
  get size(): number {
    return this.corners.length / 3 - this.lost.size - this.goneCount;
  }

  has(t: number): boolean {
    return t < this.gone.length ? this.gone[t] === 0 : !this.lost.has(t);
  }

  private remove(t: number): void {
    if (t >= this.gone.length) this.lost.add(t);
    else if (this.gone[t] === 0) {
      this.gone[t] = 1;
      this.goneCount++;
    }
  }

  private eachAt(v: number, visit: (t: number) => void): void {
    if (v < vertexCount(this.base)) {
      const { start, list } = starsOf(this.base);
      for (let i = start[v]; i < start[v + 1]; i++) if (!this.gone[list[i]]) visit(list[i]);
    }
    for (const t of this.added.get(v) ?? []) if (!this.lost.has(t)) visit(t);
  }

  /** These triangles and those that share a corner with one, some times over, in order. */
  around(seeds: Iterable<number>, rings: number): number[] {
    const { data } = this.corners;
    const met = new Set<number>();
    let rim: number[] = [];
    for (const t of seeds)
      if (!met.has(t)) {
        met.add(t);
        rim.push(t);
      }
    const turned = new Set<number>();
    for (let ring = 0; ring < rings; ring++) {
      const next: number[] = [];
      for (const t of rim)
        for (let k = 0; k < 3; k++) {
          const v = data[3 * t + k];
          if (turned.has(v)) continue;
          turned.add(v);
          this.eachAt(v, (s) => {
            if (met.has(s)) return;
            met.add(s);
            next.push(s);
          });
        }
      rim = next;
    }
    return [...met].sort((a, b) => a - b);
  }

  /**
   * Takes triangles out, parts the sheets that are left around them, and closes the holes.
   *
   * @param bad triangles to take out
   * @param near these and their neighbourhood, in which everything happens
   * @returns the triangles that are new, or null, and nothing has changed, where an edge does not come to have two sides
   */
  redo(bad: ReadonlySet<number>, near: readonly number[], context: RunContext): number[] | null {
    const { data } = this.corners;
    const local = new Map<number, number>();
    const vertex: number[] = [];
    const numberOf = (v: number): number => {
      let i = local.get(v);
      if (i === undefined) {
        local.set(v, (i = vertex.length));
        vertex.push(v);
      }
      return i;
    };
    const keep = near.filter((t) => !bad.has(t));
    const left = new Uint32Array(3 * keep.length);
    keep.forEach((t, i) => {
      for (let k = 0; k < 3; k++) left[3 * i + k] = numberOf(data[3 * t + k]);
    });
    const inside = new Set(near);
    const frame = new Uint8Array(vertex.length);
    vertex.forEach((v, i) => this.eachAt(v, (t) => void (inside.has(t) || (frame[i] = 1))));
    const positions = new Float32Array(3 * vertex.length);
    vertex.forEach((v, i) => positions.set(this.points.data.subarray(3 * v, 3 * v + 3), 3 * i));
    const closed = this.close({ positions, triangles: left }, frame, context);
    if (!closed) return null;
    const first = this.points.length / 3;
    const own = vertex.length;
    for (let i = 3 * own; i < closed.positions.length; i += 3)
      this.points.push3(closed.positions[i], closed.positions[i + 1], closed.positions[i + 2]);
    for (const t of bad) this.remove(t);
    const fresh: number[] = [];
    for (let i = 0; i < closed.triangles.length; i += 3) {
      if (i < left.length) {
        // what is still where it was, corner by corner, stays
        if ([0, 1, 2].every((k) => closed.triangles[i + k] === left[i + k])) continue;
        this.remove(keep[i / 3]);
      }
      const [a, b, c] = [0, 1, 2].map((k) => {
        const v = closed.triangles[i + k];
        return v < own ? vertex[v] : first + v - own;
      });
      fresh.push(this.add(a, b, c));
    }
    return fresh;
  }

  /**
   * Puts triangles in the place of others, joining new points that coincide.
   *
   * @param points x, y, z of new points, numbered on from the first mesh's vertices
   * @param pieces three corners each; collapsed ones, and pairs over the same corners that face each other, are left out
   * @returns the triangles that are new
   */
  replace(gone: Iterable<number>, points: readonly number[], pieces: Uint32Array): number[] {
    const base = vertexCount(this.base);
    const rounded = Float32Array.from(points);
    const known = new PointTable(rounded.length / 3);
    const names: number[] = [];
    // old corners go first, so that a new point on one of them becomes it
    for (const v of pieces) if (v < base && known.add(this.points.data, v) === names.length) names.push(v);
    const nameOf = (v: number): number => {
      if (v < base) return names[known.find(this.points.data, v)];
      const i = known.add(rounded, v - base);
      if (i === names.length) {
        names.push(this.points.length / 3);
        this.points.push3(rounded[3 * (v - base)], rounded[3 * (v - base) + 1], rounded[3 * (v - base) + 2]);
      }
      return names[i];
    };
    for (const t of gone) this.remove(t);
    const facing = new Map<string, { corners: number[]; net: number }>();
    for (let i = 0; i < pieces.length; i += 3) {
      const corners = [nameOf(pieces[i]), nameOf(pieces[i + 1]), nameOf(pieces[i + 2])];
      const [a, b, c] = corners;
      if (a === b || b === c || c === a) continue;
      const key = [...corners].sort((x, y) => x - y).join();
      const same = facing.get(key);
      if (!same) facing.set(key, { corners, net: 1 });
      else same.net += same.corners[(same.corners.indexOf(a) + 1) % 3] === b ? 1 : -1;
    }
    const fresh: number[] = [];
    for (const {
      corners: [a, b, c],
      net,
    } of facing.values())
      if (net !== 0) fresh.push(net > 0 ? this.add(a, b, c) : this.add(a, c, b));
    return fresh;
  }

  private add(a: number, b: number, c: number): number {
    const t = this.corners.length / 3;
    this.corners.push3(a, b, c);
    for (const v of [a, b, c]) {
      const at = this.added.get(v);
      if (at) at.push(t);
      else this.added.set(v, [t]);
    }
    return t;
  }

  /** @param frame vertices that triangles elsewhere use too: they stay as they are, and edges between them stay open */
  private close(open: TriMesh, frame: Uint8Array, context: RunContext): TriMesh | null {
    const parted = separateSheets(open, this.gap).mesh;
    if (parted.triangles.length !== open.triangles.length) return null;
    const triangles = parted.triangles.map((v, h) => (frame[open.triangles[h]] ? open.triangles[h] : v));
    const wanted = (m: TriMesh, loop: Uint32Array) => loop.some((h) => !frame[originOf(m, h)]);
    const options = { limitMm: Infinity, follow: false, wanted };
    const closed = fillHoles({ positions: parted.positions, triangles }, options, context).mesh;
    const { order, start, count } = edgesOf(closed);
    for (let e = 0; e < count; e++) {
      const h = order[start[e]];
      const framed = frame[originOf(closed, h)] && frame[targetOf(closed, h)];
      if (start[e + 1] - start[e] !== 2 && !framed) return null;
    }
    return closed;
  }

  /** Pairs of triangles that cross, of which one at least is new, as s, t, s, t ... */
  crossings(fresh: readonly number[], context: RunContext): number[] {
    const whole = { positions: this.points.data, triangles: this.corners.data };
    const { positions: p, triangles } = whole;
    const first = triangleCount(this.base);
    const added = new Bvh({ positions: p, triangles: triangles.subarray(3 * first, this.corners.length) });
    const flat = (t: number) => triangleArea(p, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]) === 0;
    const pairs: number[] = [];
    fresh.forEach((t, i) => {
      if ((i & 255) === 0) context.checkCancelled();
      if (flat(t)) return;
      const test = (s: number): void => {
        if (this.has(s) && !flat(s) && trianglesMeet(whole, s, t)) pairs.push(s, t);
      };
      treeOf(this.base).eachInBoxOf(whole, t, test);
      // of two new ones the later one tells; older ones have lower numbers
      added.eachInBoxOf(whole, t, (s) => first + s < t && test(first + s));
    });
    return pairs;
  }

  /** Corners of triangles as they are now, x, y, z each, nine numbers a triangle. */
  cornersOf(list: Iterable<number>): number[] {
    const out: number[] = [];
    for (const t of list)
      for (let k = 0; k < 3; k++) {
        const v = 3 * this.corners.data[3 * t + k];
        out.push(this.points.data[v], this.points.data[v + 1], this.points.data[v + 2]);
      }
    return out;
  }

  /** The mesh as it is now: old triangles in their order, then the new ones. */
  taken(): TriMesh {
    if (this.goneCount === 0 && this.corners.length === this.base.triangles.length) return this.base;
    const triangles = new Uint32Array(3 * this.size);
    let used = 0;
    for (let t = 0; t < this.corners.length / 3; t++)
      if (this.has(t)) for (let k = 0; k < 3; k++) triangles[used++] = this.corners.data[3 * t + k];
    return { positions: this.points.taken(), triangles };
  }
}
