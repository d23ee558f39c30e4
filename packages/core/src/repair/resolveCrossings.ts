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

/** Cuts every crossing triangle along the others; `doubtful` lists vertices in whose position something degenerate lies. */
function arrange(mesh: TriMesh, pairs: number[], context: RunContext): Arrangement | { doubtful: Set<number> } {
  const p = mesh.positions;
  const doubtful = new Set<number>();
  const points: number[] = [];
  const base = p.length / 3;
  const at = (v: number, k: number): number => (v < base ? p[3 * v + k] : points[3 * (v - base) + k]);
  const side = (t: number[], v: number): number =>
    orient3d(
      ...([0, 1, 2].flatMap((c) => [p[3 * t[c]], p[3 * t[c] + 1], p[3 * t[c] + 2]]) as [
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
      ]),
      p[3 * v],
      p[3 * v + 1],
      p[3 * v + 2],
    );
  const pierced = new Map<number, Map<number, number>>();
  /** segments in each triangle: two points and the triangle that cuts there */
  const cuts = new Map<number, [number, number, number][]>();
  /** points on each edge, with their place along it */
  const onEdge = new Map<number, { v: number; s: number }[]>();
  const edgeKey = (a: number, b: number) => (a < b ? a * base + b : b * base + a);
  /** ends of edges that have points on them */
  const beside = new Uint8Array(base);
  // points that no file could tell apart are one: several curves may pass through it
  const table = new PointTable(2 * pairs.length);
  const names: number[] = [];
  const rounded = new Float32Array(3);
  const nameOf = (x: number, y: number, z: number, fresh: () => number): number => {
    rounded[0] = x;
    rounded[1] = y;
    rounded[2] = z;
    const i = table.add(rounded, 0);
    if (i === names.length) names.push(fresh());
    return names[i];
  };
  // float32 tells numbers near 0 apart that are 0 but for rounding
  const grain = diagonalOf(mesh) * 2 ** -40;
  const pointAt = (place: number[]): number => {
    const [x, y, z] = place.map((c) => grain * Math.round(c / grain));
    return nameOf(x, y, z, () => base + points.push(x, y, z) / 3 - 1);
  };
  for (const t of pairs) for (const v of cornersOf(mesh, t)) nameOf(p[3 * v], p[3 * v + 1], p[3 * v + 2], () => v);

  /** The point where edge a-b goes through triangle `t`, -1 where it does not. */
  const pierce = (a: number, b: number, t: number, corners: number[]): number => {
    if (a > b) [a, b] = [b, a];
    const edge = edgeKey(a, b);
    let at = pierced.get(edge);
    if (!at) pierced.set(edge, (at = new Map<number, number>()));
    const known = at.get(t);
    if (known !== undefined) return known;
    const da = side(corners, a);
    const db = side(corners, b);
    let v = -1;
    if (da === 0 || db === 0) {
      for (const w of [...corners, a, b]) doubtful.add(w);
    } else if (da > 0 !== db > 0) {
      const x = side([a, b, corners[0]], corners[1]);
      const y = side([a, b, corners[1]], corners[2]);
      const z = side([a, b, corners[2]], corners[0]);
      const same = (x >= 0 && y >= 0 && z >= 0) || (x <= 0 && y <= 0 && z <= 0);
      if (same && (x === 0 || y === 0 || z === 0)) for (const w of [...corners, a, b]) doubtful.add(w);
      else if (same) {
        const s = da / (da - db);
        v = pointAt([0, 1, 2].map((k) => p[3 * a + k] + s * (p[3 * b + k] - p[3 * a + k])));
        beside[a] = beside[b] = 1;
        const list = onEdge.get(edge);
        if (list) list.push({ v, s });
        else onEdge.set(edge, [{ v, s }]);
      }
    }
    at.set(t, v);
    return v;
  };

  for (let i = 0; i < pairs.length; i += 2) {
    if ((i & 0xfff) === 0) context.checkCancelled();
    const [s, t] = [pairs[i], pairs[i + 1]];
    const a = cornersOf(mesh, s);
    const b = cornersOf(mesh, t);
    const shared = a.filter((v) => b.includes(v));
    const ends = new Set<number>(shared);
    let found = 0;
    if (shared.length > 1) {
      for (const v of [...a, ...b]) doubtful.add(v);
      continue;
    }
    for (const [one, other, of] of [
      [a, b, t],
      [b, a, s],
    ] as const)
      for (let k = 0; k < 3; k++) {
        const [u, v] = [one[k], one[(k + 1) % 3]];
        if (shared.includes(u) || shared.includes(v)) continue;
        const w = pierce(u, v, of, other);
        if (w < 0) continue;
        ends.add(w);
        found++;
      }
    // both ends in one point: a crossing too short to be told
    if (ends.size === 1 && found > 0) continue;
    if (ends.size !== 2) {
      for (const v of [...a, ...b]) doubtful.add(v);
      continue;
    }
    const [e, f] = ends;
    for (const [one, other] of [
      [s, t],
      [t, s],
    ]) {
      const list = cuts.get(one);
      if (list) list.push([e, f, other]);
      else cuts.set(one, [[e, f, other]]);
    }
  }
  if (doubtful.size > 0) return { doubtful };
  const n = triangleCount(mesh);
  const { triangles } = mesh;
  const toCut: number[] = [];
  for (let t = 0; t < n; t++) {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    // a triangle may have a point on an edge that only its neighbour's crossing made
    if (
      cuts.has(t) ||
      (beside[a] + beside[b] + beside[c] > 1 &&
        (onEdge.has(edgeKey(a, b)) || onEdge.has(edgeKey(b, c)) || onEdge.has(edgeKey(c, a))))
    )
      toCut.push(t);
  }
  const pieces = new GrowableIndices();
  const parent = new GrowableIndices();
  const triples = new Map<string, number>();
  for (const list of onEdge.values()) list.sort((x, y) => x.s - y.s);
  let done = 0;
  for (const t of toCut) {
    const corners = cornersOf(mesh, t);
    if ((++done & 63) === 0) context.checkCancelled();
    const own = cutTriangle(corners, cuts.get(t) ?? [], onEdge, edgeKey, at, (s, u, place) => {
      const key = [t, s, u].sort((x, y) => x - y).join();
      let v = triples.get(key);
      if (v === undefined) triples.set(key, (v = pointAt(place)));
      return v;
    });
    if (!own) return { doubtful: new Set(corners) };
    for (let i = 0; i < own.length; i += 3) {
      pieces.push3(own[i], own[i + 1], own[i + 2]);
      parent.push(t);
    }
  }
  return { cut: toCut, points, pieces: pieces.taken(), parent: parent.taken() };
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
