import { buildEdges, originOf, targetOf, twinsOf, type Edges } from '../mesh/edges.ts';
import { triangleArea } from '../mesh/measures.ts';
import { nextHalfEdge, subMesh, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';
import { UnionFind } from '../mesh/UnionFind.ts';
import { bridgedFans, holesOf, type OpenFan } from './bridges.ts';

/**
 * Cuts non-manifold edges and vertices apart, so that each sheet is manifold by itself. Around an edge with more than
 * two sides, sheets are paired so that each pair has the body between them. Copies of a vertex are drawn towards
 * their own sheet by `gap`, or they would meet again in any file; the copy with the largest fan stays bit for bit.
 * Corners in which holes of one skin touch stay whole: they heal when the holes are closed.
 *
 * @param gap mm
 */
export function separateSheets(start: TriMesh, gap: number): { mesh: TriMesh; cutEdges: number; cutVertices: number } {
  let result = separateWell(start, gap);
  const total = { cutEdges: result.cutEdges, cutVertices: result.cutVertices };
  // without an edge of more than two sides there is nothing left to part
  if (total.cutEdges === 0) return { mesh: result.mesh, ...total };
  // sheets that hang together on both sides of an edge cannot be parted along it: all but one pair make way
  for (let round = 0; round < 6; round++) {
    const fewer = dropExcess(result.mesh);
    if (!fewer) break;
    result = separateWell(fewer, gap);
    total.cutVertices += result.cutVertices;
  }
  return { mesh: result.mesh, ...total };
}

/** Cuts, and cuts again where a hole would have to be closed through one corner twice. */
function separateWell(start: TriMesh, gap: number): ReturnType<typeof separateOnce> {
  const cut = new Set<number>();
  for (;;) {
    const result = separateOnce(start, gap, cut);
    if (result.bridged === 0) return result;
    const before = cut.size;
    for (const v of holesOf(result.mesh, twinsOf(result.mesh, buildEdges(result.mesh))).pinched) cut.add(v);
    if (cut.size === before) return result;
  }
}

/** Without the triangles that an edge has beyond its best pair, the largest that run opposite ways; null if there are none. */
function dropExcess(mesh: TriMesh): TriMesh | null {
  const edges = buildEdges(mesh);
  const gone = new Set<number>();
  const area = (h: number) => {
    const t = 3 * ((h / 3) | 0);
    return triangleArea(mesh.positions, mesh.triangles[t], mesh.triangles[t + 1], mesh.triangles[t + 2]);
  };
  for (let e = 0; e < edges.count; e++) {
    if (edges.start[e + 1] - edges.start[e] < 3) continue;
    const sides = [...edges.order.subarray(edges.start[e], edges.start[e + 1])].sort(
      (a, b) => area(b) - area(a) || a - b,
    );
    const first = sides[0];
    const second = sides.find((h) => originOf(mesh, h) !== originOf(mesh, first));
    for (const h of sides) if (h !== first && h !== second) gone.add((h / 3) | 0);
  }
  if (gone.size === 0) return null;
  const keep: number[] = [];
  for (let t = 0; t < triangleCount(mesh); t++) if (!gone.has(t)) keep.push(t);
  return subMesh(mesh, keep);
}

function separateOnce(
  mesh: TriMesh,
  gap: number,
  cut: Set<number>,
): { mesh: TriMesh; cutEdges: number; cutVertices: number; bridged: number } {
  const edges = buildEdges(mesh);
  const { positions: p, triangles } = mesh;
  const { order, start, count } = edges;
  const fans = new UnionFind(triangles.length);
  const pair = (a: number, b: number): void => {
    fans.union(a, nextHalfEdge(b));
    fans.union(nextHalfEdge(a), b);
  };
  let cutEdges = 0;
  for (let e = 0; e < count; e++) {
    const from = start[e];
    const sides = start[e + 1] - from;
    if (sides === 2) {
      if (originOf(mesh, order[from]) !== originOf(mesh, order[from + 1])) pair(order[from], order[from + 1]);
      else cutEdges++;
    } else if (sides > 2) {
      cutEdges++;
      pairAround(mesh, order.subarray(from, start[e + 1]), pair);
    }
  }
  const bridged = bridge(mesh, edges, fans, cut);
  const size = new Uint32Array(triangles.length);
  for (let c = 0; c < triangles.length; c++) size[fans.find(c)]++;
  const main = new Int32Array(p.length / 3).fill(-1);
  for (let c = 0; c < triangles.length; c++) {
    const v = triangles[c];
    if (fans.parent[c] === c && (main[v] < 0 || size[c] > size[main[v]])) main[v] = c;
  }
  const copies: number[] = [];
  const copyOf = new Map<number, number>();
  const out = triangles.slice();
  let next = p.length / 3;
  for (let c = 0; c < triangles.length; c++) {
    const root = fans.find(c);
    if (root === main[triangles[c]]) continue;
    let v = copyOf.get(root);
    if (v === undefined) {
      v = next++;
      copyOf.set(root, v);
      copies.push(root);
    }
    out[c] = v;
  }
  if (copies.length === 0) return { mesh, cutEdges, cutVertices: 0, bridged };
  const positions = new Float32Array(3 * next);
  positions.set(p);
  const pull = new Float64Array(4 * copies.length);
  for (let c = 0; c < out.length; c++) {
    const i = out[c] - p.length / 3;
    if (i < 0) continue;
    const t = c - (c % 3);
    for (let k = 0; k < 3; k++) {
      for (let q = 0; q < 3; q++) pull[4 * i + k] += p[3 * triangles[t + q] + k] / 3;
    }
    pull[4 * i + 3]++;
  }
  copies.forEach((root, i) => {
    const v = triangles[root];
    const d = [0, 1, 2].map((k) => pull[4 * i + k] / pull[4 * i + 3] - p[3 * v + k]);
    const length = Math.hypot(d[0], d[1], d[2]);
    const s = length > 0 ? Math.min(0.25, gap / length) : 0;
    for (let k = 0; k < 3; k++) positions[p.length + 3 * i + k] = p[3 * v + k] + s * d[k];
  });
  return { mesh: { positions, triangles: out }, cutEdges, cutVertices: copies.length, bridged };
}

/** Unites the fans at corners in which holes of one skin touch, but for those to be cut. Returns at how many. */
function bridge(mesh: TriMesh, edges: Edges, fans: UnionFind, cut: Set<number>): number {
  let bridged = 0;
  const { triangles } = mesh;
  const open = new Uint8Array(triangles.length);
  for (let e = 0; e < edges.count; e++)
    if (edges.start[e + 1] - edges.start[e] === 1) open[edges.order[edges.start[e]]] = 1;
  // fans of a vertex by their open half-edges; a vertex at which any fan is not open once is left alone
  const first = new Map<number, Map<number, OpenFan>>();
  for (let h = 0; h < triangles.length; h++) {
    if (!open[h]) continue;
    const from = originOf(mesh, h);
    const to = targetOf(mesh, h);
    put(from, fans.find(h)).leaves = h;
    put(to, fans.find(nextHalfEdge(h))).arrives = h;
  }
  function put(vertex: number, root: number): OpenFan {
    let at = first.get(vertex);
    if (!at) first.set(vertex, (at = new Map<number, OpenFan>()));
    let fan = at.get(root);
    if (!fan) at.set(root, (fan = { leaves: -1, arrives: -1 }));
    return fan;
  }
  const closed = new Set<number>();
  for (const [v, at] of first) if (at.size < 2) first.delete(v);
  for (let c = 0; c < triangles.length; c++) {
    const at = first.get(triangles[c]);
    if (at && !at.has(fans.find(c))) closed.add(triangles[c]);
  }
  for (const [v, at] of first) {
    const list = [...at.values()];
    if (closed.has(v) || cut.has(v) || list.some((f) => f.leaves < 0 || f.arrives < 0)) continue;
    if (!bridgedFans(mesh, v, list)) continue;
    const roots = [...at.keys()];
    for (const root of roots.slice(1)) fans.union(roots[0], root);
    bridged++;
  }
  return bridged;
}

/** Pairs the half-edges of one edge: sorted by angle, each that runs back is joined to the next if that runs forward. */
function pairAround(mesh: TriMesh, sides: Uint32Array, pair: (a: number, b: number) => void): void {
  const p = mesh.positions;
  const lo = Math.min(originOf(mesh, sides[0]), targetOf(mesh, sides[0]));
  const hi = Math.max(originOf(mesh, sides[0]), targetOf(mesh, sides[0]));
  const e = [0, 1, 2].map((k) => p[3 * hi + k] - p[3 * lo + k]);
  const length = Math.hypot(e[0], e[1], e[2]) || 1;
  for (let k = 0; k < 3; k++) e[k] /= length;
  const axis = Math.abs(e[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const u = [e[1] * axis[2] - e[2] * axis[1], e[2] * axis[0] - e[0] * axis[2], e[0] * axis[1] - e[1] * axis[0]];
  const w = [e[1] * u[2] - e[2] * u[1], e[2] * u[0] - e[0] * u[2], e[0] * u[1] - e[1] * u[0]];
  const list = Array.from(sides, (h) => {
    const apex = mesh.triangles[nextHalfEdge(nextHalfEdge(h))];
    const d = [0, 1, 2].map((k) => p[3 * apex + k] - p[3 * lo + k]);
    return {
      h,
      forward: originOf(mesh, h) === lo,
      angle: Math.atan2(d[0] * w[0] + d[1] * w[1] + d[2] * w[2], d[0] * u[0] + d[1] * u[1] + d[2] * u[2]),
    };
  }).sort((a, b) => a.angle - b.angle || Number(a.forward) - Number(b.forward) || a.h - b.h);
  for (let i = 0; i < list.length; i++) {
    const a = list[i];
    const b = list[(i + 1) % list.length];
    if (!a.forward && b.forward) pair(a.h, b.h);
  }
}
