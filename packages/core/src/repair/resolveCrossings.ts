import constrained from '@kninnug/constrainautor';
import Delaunator from 'delaunator';
import { orient3d } from 'robust-predicates';
import { GrowableIndices } from '../mesh/Growable.ts';
import type { RunContext } from '../run/context.ts';
import { crossingsAfter } from '../mesh/crossings.ts';
import { edgesOf, originOf, targetOf } from '../mesh/edges.ts';
import { triangleArea } from '../mesh/measures.ts';
import { PointTable } from '../mesh/PointTable.ts';
import { randomFrom } from '../mesh/random.ts';
import type { Crossings } from '../mesh/selfIntersections.ts';
import { diagonalOf, nextHalfEdge, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';
import { UnionFind } from '../mesh/UnionFind.ts';
import { windingOf } from '../mesh/WindingTree.ts';

/** Places where predicates are exactly zero are shaken by this share of the diagonal, about thirty steps of float32. */
const shake = 2e-6;
const attempts = 4;
/** The package's types are those of its CommonJS file. */
const Constrainautor = constrained as unknown as typeof constrained.default;

/** A mesh with some triangles taken out and others put in their place. */
export interface Resolved {
  /** the source, or the source with corners that only touched moved a little */
  mesh: TriMesh;
  /** triangles of it that go: those that were cut, and those that lie buried */
  gone: Set<number>;
  /** new points x, y, z, numbered on from the mesh's vertices */
  points: number[];
  /** corners of the triangles that come instead */
  pieces: Uint32Array;
}

/**
 * Splits a closed, oriented mesh along the curves where it crosses itself, and keeps what bounds the points with a
 * winding number of one or more (Zhou et al. 2016): overlaps become one skin, and skins buried inside go. Triangles
 * that nothing crosses stay bit for bit. Corners of triangles that only touch or lie in one plane are moved by two
 * millionths of the diagonal first, so that every crossing is a plain one.
 *
 * @param known all pairs of triangles that cross, if they have been looked for already; more than can be listed are left
 * to a new skin
 * @returns what goes and what takes its place, or null where the curves could not be followed consistently. Rounding
 * to float32 can leave tiny crossings on slivers: test the result
 */
export function resolveCrossings(source: TriMesh, context: RunContext, known?: Crossings): Resolved | null {
  const random = randomFrom(context.seed);
  const reach = shake * diagonalOf(source);
  let mesh = source;
  let before = source;
  for (let attempt = 0; attempt < attempts; attempt++) {
    context.progress(attempt / attempts, 'Following the curves where the skin crosses itself');
    const { count, pairs } = known && attempt === 0 ? known : crossingsAfter(mesh, before, context);
    if (2 * count > pairs.length) return null;
    const arranged = arrange(mesh, pairs, context);
    if ('pieces' in arranged) {
      const kept = keepInside(mesh, arranged, context);
      if (kept) return kept;
    }
    const loose = 'pieces' in arranged ? new Set(pairs.flatMap((t) => cornersOf(mesh, t))) : arranged.doubtful;
    const positions = mesh.positions.slice();
    for (const v of loose) for (let k = 0; k < 3; k++) positions[3 * v + k] += reach * (2 * random() - 1);
    before = mesh;
    mesh = { positions, triangles: mesh.triangles };
  }
  return null;
}

interface Arrangement {
  /** triangles that were cut */
  cut: number[];
  /** new points x, y, z, numbered on from the mesh's vertices */
  points: number[];
  /** corners of the pieces they were cut into */
  pieces: Uint32Array;
  /** the triangle that each was cut from */
  parent: Uint32Array;
}

const cornersOf = (mesh: TriMesh, t: number): number[] => [
  mesh.triangles[3 * t],
  mesh.triangles[3 * t + 1],
  mesh.triangles[3 * t + 2],
];

type Corners = number[];

/** Points that crossings make, each once: what no file could tell apart is one, as several curves may pass through it. */
class CrossingPoints {
  /** those beyond the mesh's own */
  readonly points: number[] = [];
  readonly base: number;
  private readonly table: PointTable;
  private readonly names: number[] = [];
  private readonly rounded = new Float32Array(3);
  /** float32 tells numbers near 0 apart that are 0 but for rounding */
  private readonly grain: number;

  constructor(
    private readonly mesh: TriMesh,
    pairs: number[],
  ) {
    this.base = mesh.positions.length / 3;
    this.table = new PointTable(2 * pairs.length);
    this.grain = diagonalOf(mesh) * 2 ** -40;
    const p = mesh.positions;
    for (const t of pairs)
      for (const v of cornersOf(mesh, t)) this.nameOf(p[3 * v], p[3 * v + 1], p[3 * v + 2], () => v);
  }

  at(v: number, k: number): number {
    return v < this.base ? this.mesh.positions[3 * v + k] : this.points[3 * (v - this.base) + k];
  }

  /** The number of the point at a place, a new one where there is none yet. */
  pointAt(place: number[]): number {
    const [x, y, z] = place.map((c) => this.grain * Math.round(c / this.grain));
    return this.nameOf(x, y, z, () => this.base + this.points.push(x, y, z) / 3 - 1);
  }

  private nameOf(x: number, y: number, z: number, fresh: () => number): number {
    this.rounded[0] = x;
    this.rounded[1] = y;
    this.rounded[2] = z;
    const i = this.table.add(this.rounded, 0);
    if (i === this.names.length) this.names.push(fresh());
    return this.names[i];
  }
}

/** Where the triangles of a mesh go through each other. */
class CrossingCuts {
  readonly points: CrossingPoints;
  /** vertices near what exact tests cannot settle: a corner in a plane, an edge through an edge */
  readonly doubtful = new Set<number>();
  /** segments in each triangle: two points and the triangle that cuts there */
  readonly cuts = new Map<number, [number, number, number][]>();
  /** points on each edge, with their place along it */
  readonly onEdge = new Map<number, { v: number; s: number }[]>();
  /** ends of edges that have points on them */
  readonly beside: Uint8Array;
  private readonly pierced = new Map<number, Map<number, number>>();

  constructor(
    private readonly mesh: TriMesh,
    pairs: number[],
    context: RunContext,
  ) {
    this.points = new CrossingPoints(mesh, pairs);
    this.beside = new Uint8Array(this.points.base);
    for (let i = 0; i < pairs.length; i += 2) {
      if ((i & 0xfff) === 0) context.checkCancelled();
      this.cross(pairs[i], pairs[i + 1]);
    }
  }

  edgeKey = (a: number, b: number): number => (a < b ? a * this.points.base + b : b * this.points.base + a);

  /** On which side of a triangle a vertex lies; 0 in its plane. */
  private side(t: Corners, v: number): number {
    const p = this.mesh.positions;
    const [a, b, c] = [3 * t[0], 3 * t[1], 3 * t[2]];
    return orient3d(
      p[a],
      p[a + 1],
      p[a + 2],
      p[b],
      p[b + 1],
      p[b + 2],
      p[c],
      p[c + 1],
      p[c + 2],
      p[3 * v],
      p[3 * v + 1],
      p[3 * v + 2],
    );
  }

  private doubt(...vertices: number[]): void {
    for (const v of vertices) this.doubtful.add(v);
  }

  /** The point where edge a-b goes through triangle `t`, -1 where it does not. */
  private pierce(a: number, b: number, t: number, corners: Corners): number {
    if (a > b) [a, b] = [b, a];
    const edge = this.edgeKey(a, b);
    let at = this.pierced.get(edge);
    if (!at) this.pierced.set(edge, (at = new Map<number, number>()));
    const known = at.get(t);
    if (known !== undefined) return known;
    const v = this.through(a, b, edge, corners);
    at.set(t, v);
    return v;
  }

  private through(a: number, b: number, edge: number, corners: Corners): number {
    const da = this.side(corners, a);
    const db = this.side(corners, b);
    if (da === 0 || db === 0) {
      this.doubt(...corners, a, b);
      return -1;
    }
    if (da > 0 === db > 0) return -1;
    const x = this.side([a, b, corners[0]], corners[1]);
    const y = this.side([a, b, corners[1]], corners[2]);
    const z = this.side([a, b, corners[2]], corners[0]);
    const same = (x >= 0 && y >= 0 && z >= 0) || (x <= 0 && y <= 0 && z <= 0);
    if (!same) return -1;
    if (x === 0 || y === 0 || z === 0) {
      this.doubt(...corners, a, b);
      return -1;
    }
    const p = this.mesh.positions;
    const s = da / (da - db);
    const v = this.points.pointAt([0, 1, 2].map((k) => p[3 * a + k] + s * (p[3 * b + k] - p[3 * a + k])));
    this.beside[a] = this.beside[b] = 1;
    const list = this.onEdge.get(edge);
    if (list) list.push({ v, s });
    else this.onEdge.set(edge, [{ v, s }]);
    return v;
  }

  /** The segment in which two triangles cross. */
  private cross(s: number, t: number): void {
    const a = cornersOf(this.mesh, s);
    const b = cornersOf(this.mesh, t);
    const shared = a.filter((v) => b.includes(v));
    if (shared.length > 1) return this.doubt(...a, ...b);
    const ends = new Set<number>(shared);
    let found = 0;
    for (const [one, other, of] of [
      [a, b, t],
      [b, a, s],
    ] as const)
      for (let k = 0; k < 3; k++) {
        const [u, v] = [one[k], one[(k + 1) % 3]];
        if (shared.includes(u) || shared.includes(v)) continue;
        const w = this.pierce(u, v, of, other);
        if (w < 0) continue;
        ends.add(w);
        found++;
      }
    // both ends in one point: a crossing too short to be told
    if (ends.size === 1 && found > 0) return;
    if (ends.size !== 2) return this.doubt(...a, ...b);
    const [e, f] = ends;
    for (const [one, other] of [
      [s, t],
      [t, s],
    ]) {
      const list = this.cuts.get(one);
      if (list) list.push([e, f, other]);
      else this.cuts.set(one, [[e, f, other]]);
    }
  }

  /** Triangles that are cut, or have a point on an edge that only their neighbour's crossing made. */
  toCut(): number[] {
    const { triangles } = this.mesh;
    const { beside, onEdge, cuts, edgeKey } = this;
    const out: number[] = [];
    for (let t = 0; t < triangleCount(this.mesh); t++) {
      const a = triangles[3 * t];
      const b = triangles[3 * t + 1];
      const c = triangles[3 * t + 2];
      if (
        cuts.has(t) ||
        (beside[a] + beside[b] + beside[c] > 1 &&
          (onEdge.has(edgeKey(a, b)) || onEdge.has(edgeKey(b, c)) || onEdge.has(edgeKey(c, a))))
      )
        out.push(t);
    }
    return out;
  }
}

/** Cuts every crossing triangle along the others; `doubtful` lists vertices in whose position something degenerate lies. */
function arrange(mesh: TriMesh, pairs: number[], context: RunContext): Arrangement | { doubtful: Set<number> } {
  const found = new CrossingCuts(mesh, pairs, context);
  if (found.doubtful.size > 0) return { doubtful: found.doubtful };
  const { points, cuts, onEdge, edgeKey } = found;
  const cut = found.toCut();
  const pieces = new GrowableIndices();
  const parent = new GrowableIndices();
  const triples = new Map<string, number>();
  for (const list of onEdge.values()) list.sort((x, y) => x.s - y.s);
  const at = (v: number, k: number): number => points.at(v, k);
  let done = 0;
  for (const t of cut) {
    const corners = cornersOf(mesh, t);
    if ((++done & 63) === 0) context.checkCancelled();
    const own = cutTriangle(corners, cuts.get(t) ?? [], onEdge, edgeKey, at, (s, u, place) => {
      const key = [t, s, u].sort((x, y) => x - y).join();
      let v = triples.get(key);
      if (v === undefined) triples.set(key, (v = points.pointAt(place)));
      return v;
    });
    if (!own) return { doubtful: new Set(corners) };
    for (let i = 0; i < own.length; i += 3) {
      pieces.push3(own[i], own[i + 1], own[i + 2]);
      parent.push(t);
    }
  }
  return { cut, points: points.points, pieces: pieces.taken(), parent: parent.taken() };
}

/** Pieces of one triangle between its edges and the segments that others cut into it; null where they cannot be had. */
function cutTriangle(
  corners: number[],
  cuts: [number, number, number][],
  onEdge: Map<number, { v: number; s: number }[]>,
  edgeKey: (a: number, b: number) => number,
  at: (v: number, k: number) => number,
  triple: (s: number, u: number, place: [number, number, number]) => number,
): number[] | null {
  // a frame in the triangle's plane
  const o = [0, 1, 2].map((k) => at(corners[0], k));
  const e1 = [0, 1, 2].map((k) => at(corners[1], k) - o[k]);
  const e2 = [0, 1, 2].map((k) => at(corners[2], k) - o[k]);
  const normal = [0, 1, 2].map((k) => e1[(k + 1) % 3] * e2[(k + 2) % 3] - e1[(k + 2) % 3] * e2[(k + 1) % 3]);
  const length = Math.hypot(...e1);
  const area = Math.hypot(...normal);
  if (!(length > 0) || !(area > 0)) return null;
  const ux = e1.map((x) => x / length);
  const nn = normal.map((x) => x / area);
  const uy = [0, 1, 2].map((k) => nn[(k + 1) % 3] * ux[(k + 2) % 3] - nn[(k + 2) % 3] * ux[(k + 1) % 3]);
  const ids: number[] = [];
  const flat: number[] = [];
  const index = new Map<number, number>();
  const put = (v: number): number => {
    const known = index.get(v);
    if (known !== undefined) return known;
    const d = [0, 1, 2].map((k) => at(v, k) - o[k]);
    index.set(v, ids.length);
    flat.push(d[0] * ux[0] + d[1] * ux[1] + d[2] * ux[2], d[0] * uy[0] + d[1] * uy[1] + d[2] * uy[2]);
    ids.push(v);
    return ids.length - 1;
  };
  const constraints: [number, number][] = [];
  const rim = new Set<number>();
  const rimKey = (a: number, b: number) => (a < b ? a * 0x100000 + b : b * 0x100000 + a);
  for (let k = 0; k < 3; k++) {
    const a = corners[k];
    const b = corners[(k + 1) % 3];
    let list = (onEdge.get(edgeKey(a, b)) ?? []).map((x) => x.v);
    if (a > b) list = list.reverse();
    let from = put(a);
    for (const v of [...list, b]) {
      const to = put(v);
      if (to === from) continue;
      constraints.push([from, to]);
      rim.add(rimKey(from, to));
      from = to;
    }
  }
  const ends = cuts.map(([a, b]) => [put(a), put(b)]);
  const along: { v: number; s: number }[][] = cuts.map(() => []);
  const turn = (a: number, b: number, c: number) =>
    (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
    (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
  for (let i = 0; i < cuts.length; i++)
    for (let j = i + 1; j < cuts.length; j++) {
      const [a, b] = ends[i];
      const [c, d] = ends[j];
      if (a === c || a === d || b === c || b === d) continue;
      const x = turn(a, b, c);
      const y = turn(a, b, d);
      if (x > 0 === y > 0) continue;
      const z = turn(c, d, a);
      const w = turn(c, d, b);
      if (z > 0 === w > 0) continue;
      const s = z / (z - w);
      const place = [0, 1, 2].map((k) => at(cuts[i][0], k) + s * (at(cuts[i][1], k) - at(cuts[i][0], k)));
      const v = put(triple(cuts[i][2], cuts[j][2], place as [number, number, number]));
      along[i].push({ v, s });
      along[j].push({ v, s: x / (x - y) });
    }
  cuts.forEach((_, i) => {
    let from = ends[i][0];
    for (const v of [...along[i].sort((a, b) => a.s - b.s).map((x) => x.v), ends[i][1]]) {
      if (v !== from) constraints.push([from, v]);
      from = v;
    }
  });
  try {
    const net = new Delaunator(flat);
    const fixed = new Set(constraints.map(([a, b]) => rimKey(a, b)));
    const tied = new Constrainautor(net);
    const seen = new Set<number>();
    for (const [a, b] of constraints) {
      const key = rimKey(a, b);
      if (seen.has(key)) continue;
      seen.add(key);
      tied.constrainOne(a, b);
    }
    const { triangles, halfedges } = net;
    // points on an edge stand off it by rounding: what lies between the edge and the hull is no piece of the triangle
    const outside = new Uint8Array(triangles.length / 3);
    const queue: number[] = [];
    for (let h = 0; h < halfedges.length; h++)
      if (halfedges[h] < 0 && !rim.has(rimKey(triangles[h], triangles[nextHalfEdge(h)]))) queue.push((h / 3) | 0);
    while (queue.length > 0) {
      const f = queue.pop()!;
      if (outside[f]) continue;
      outside[f] = 1;
      for (let h = 3 * f; h < 3 * f + 3; h++)
        if (halfedges[h] >= 0 && !fixed.has(rimKey(triangles[h], triangles[nextHalfEdge(h)])))
          queue.push((halfedges[h] / 3) | 0);
    }
    const out: number[] = [];
    for (let f = 0; f < outside.length; f++) {
      if (outside[f]) continue;
      // the package turns its triangles clockwise where y goes up
      const [a, b, c] = [triangles[3 * f], triangles[3 * f + 1], triangles[3 * f + 2]];
      if (turn(a, b, c) > 0) out.push(ids[a], ids[b], ids[c]);
      else out.push(ids[a], ids[c], ids[b]);
    }
    return out;
  } catch {
    return null;
  }
}

/**
 * Of the patches between the curves, those with a winding number of 0 or less outside and 1 or more inside stay; null
 * where the patches do not close.
 */
function keepInside(mesh: TriMesh, arranged: Arrangement, context: RunContext): Resolved | null {
  const { positions: p, triangles } = mesh;
  const { cut, points, pieces, parent } = arranged;
  const n = triangleCount(mesh);
  const base = p.length / 3;
  const total = n + parent.length;
  const isCut = new Uint8Array(n);
  for (const t of cut) isCut[t] = 1;
  const sets = new UnionFind(total);
  // sides of the edges that pieces have, by number of triangle or piece
  const local = new Map<number, number[]>();
  const put = (a: number, b: number, side: number): void => {
    const key = a < b ? a * (base + points.length) + b : b * (base + points.length) + a;
    const sides = local.get(key);
    if (sides) sides.push(side);
    else local.set(key, [side]);
  };
  const { order, start, count: edgeCount } = edgesOf(mesh);
  const crowded: number[] = [];
  for (let e = 0; e < edgeCount; e++) {
    const sides = start[e + 1] - start[e];
    const s = (order[start[e]] / 3) | 0;
    const t = (order[start[e + 1] - 1] / 3) | 0;
    if (sides === 2 && !isCut[s] && !isCut[t]) {
      sets.union(s, t);
      continue;
    }
    const whole = order.subarray(start[e], start[e + 1]).filter((h) => !isCut[(h / 3) | 0]);
    if (whole.length < sides) for (const h of whole) put(originOf(mesh, h), targetOf(mesh, h), (h / 3) | 0);
    else if (sides % 2 === 1) return null;
    else crowded.push(e);
  }
  for (let i = 0; i < pieces.length; i++) put(pieces[i], pieces[i % 3 === 2 ? i - 2 : i + 1], n + ((i / 3) | 0));
  for (const sides of local.values()) {
    if (sides.length % 2 === 1) return null;
    if (sides.length === 2) sets.union(sides[0], sides[1]);
  }
  const { label, count } = sets.labels();
  const best = new Int32Array(count).fill(-1);
  const area = new Float64Array(count);
  const at = (v: number, k: number): number => (v < base ? p[3 * v + k] : points[3 * (v - base) + k]);
  for (let t = 0; t < total; t++) {
    if (t < n && isCut[t]) continue;
    const a =
      t < n
        ? triangleArea(p, triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2])
        : pieceArea(at, pieces, 3 * (t - n));
    if (best[label[t]] >= 0 && a <= area[label[t]]) continue;
    best[label[t]] = t;
    area[label[t]] = a;
  }
  const winding = windingOf(mesh);
  const keep = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    if ((i & 255) === 0) context.checkCancelled();
    const t = best[i];
    if (t < 0) continue;
    const c = [0, 1, 2].map((k) => {
      let sum = 0;
      for (let q = 0; q < 3; q++) sum += at(t < n ? triangles[3 * t + q] : pieces[3 * (t - n) + q], k);
      return sum / 3;
    });
    // without the triangle itself: the mean of its two sides
    const middle = winding.at(c[0], c[1], c[2], t < n ? t : parent[t - n]);
    keep[i] = Math.round(middle - 0.5) === 0 ? 1 : 0;
  }
  const even = (sides: number[]): boolean => sides.filter((t) => keep[label[t]]).length % 2 === 0;
  for (const sides of local.values()) if (!even(sides)) return null;
  for (const e of crowded)
    if (!even(Array.from(order.subarray(start[e], start[e + 1]), (h) => (h / 3) | 0))) return null;
  const gone = new Set<number>();
  for (let t = 0; t < n; t++) if (isCut[t] || !keep[label[t]]) gone.add(t);
  const stay = new GrowableIndices();
  for (let i = 0; i < parent.length; i++)
    if (keep[label[n + i]]) stay.push3(pieces[3 * i], pieces[3 * i + 1], pieces[3 * i + 2]);
  return { mesh, gone, points, pieces: stay.taken() };
}

function pieceArea(at: (v: number, k: number) => number, pieces: Uint32Array, i: number): number {
  const side = (q: number, k: number): number => at(pieces[i + q], k) - at(pieces[i], k);
  const cross = [0, 1, 2].map((k) => {
    const [u, v] = [(k + 1) % 3, (k + 2) % 3];
    return side(1, u) * side(2, v) - side(1, v) * side(2, u);
  });
  return Math.hypot(...cross) / 2;
}
