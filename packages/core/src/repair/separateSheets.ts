import { GrowableIndices } from '../mesh/Growable.ts';
import { brokenStars, edgesOf, OPEN, originOf, targetOf, twinsOf } from '../mesh/edges.ts';
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
 * @param bodies pair faces that lie on one another each with its own body, instead of with each other
 */
export function separateSheets(
  start: TriMesh,
  gap: number,
  bodies = false,
): { mesh: TriMesh; cutEdges: number; cutVertices: number } {
  let result = separateWell(start, gap, bodies);
  const total = { cutEdges: result.cutEdges, cutVertices: result.cutVertices };
  // without an edge of more than two sides there is nothing left to part
  if (total.cutEdges === 0) return { mesh: result.mesh, ...total };
  // sheets that hang together on both sides of an edge cannot be parted along it: all but one pair make way
  for (let round = 0; round < 6; round++) {
    const fewer = dropExcess(result.mesh);
    if (!fewer) break;
    result = separateWell(fewer, gap, bodies);
    total.cutVertices += result.cutVertices;
  }
  return { mesh: result.mesh, ...total };
}

/** Cuts, and cuts again where a hole would have to be closed through one corner twice. */
function separateWell(start: TriMesh, gap: number, bodies: boolean): Separated {
  const places = brokenPlaces(start);
  const cut = new Set<number>();
  for (;;) {
    const result = separateOnce(start, places, gap, cut, bodies);
    if (result.bridged === 0) return result;
    const before = cut.size;
    for (const v of holesOf(result.mesh).pinched) cut.add(v);
    if (cut.size === before) return result;
  }
}

/** Without the triangles that an edge has beyond its best pair, the largest that run opposite ways; null if there are none. */
function dropExcess(mesh: TriMesh): TriMesh | null {
  const edges = edgesOf(mesh);
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

interface Separated {
  mesh: TriMesh;
  cutEdges: number;
  cutVertices: number;
  bridged: number;
}

/** Where a mesh does not hang together as one skin; all work is done there. */
interface BrokenPlaces {
  /** corners at vertices with several fans, in order */
  corners: Uint32Array;
  /** half-edges of each edge with more than two sides */
  excess: Uint32Array[];
  /** edges with more than two sides, or with two that run the same way */
  cutEdges: number;
}

function brokenPlaces(mesh: TriMesh): BrokenPlaces {
  const { order, start, count } = edgesOf(mesh);
  const excess: Uint32Array[] = [];
  let cutEdges = 0;
  for (let e = 0; e < count; e++) {
    const sides = start[e + 1] - start[e];
    if (sides > 2) excess.push(order.subarray(start[e], start[e + 1]));
    else if (sides === 2 && originOf(mesh, order[start[e]]) === originOf(mesh, order[start[e] + 1])) cutEdges++;
  }
  const broken = brokenStars(mesh);
  const corners = new GrowableIndices();
  if (broken.includes(1)) mesh.triangles.forEach((v, c) => void (broken[v] && corners.push(c)));
  return { corners: corners.taken(), excess, cutEdges: cutEdges + excess.length };
}

function separateOnce(mesh: TriMesh, places: BrokenPlaces, gap: number, cut: Set<number>, bodies: boolean): Separated {
  const { corners, excess, cutEdges } = places;
  if (corners.length === 0) return { mesh, cutEdges, cutVertices: 0, bridged: 0 };
  const { positions: p, triangles } = mesh;
  const twin = twinsOf(mesh);
  const place = new Map<number, number>();
  corners.forEach((c, i) => place.set(c, i));
  const fans = new UnionFind(corners.length);
  const unite = (a: number, b: number): void => {
    const i = place.get(a);
    const j = place.get(b);
    if (i !== undefined && j !== undefined) fans.union(i, j);
  };
  for (const c of corners) {
    if (twin[c] >= 0) unite(c, nextHalfEdge(twin[c]));
    const arrives = nextHalfEdge(nextHalfEdge(c));
    if (twin[arrives] >= 0) unite(c, twin[arrives]);
  }
  for (const sides of excess)
    pairAround(mesh, sides, bodies, (a, b) => {
      unite(a, nextHalfEdge(b));
      unite(nextHalfEdge(a), b);
    });
  const bridged = bridge(mesh, corners, fans, cut);
  // the largest fan of each vertex stays
  const size = new Uint32Array(corners.length);
  for (let i = 0; i < corners.length; i++) size[fans.find(i)]++;
  const main = new Map<number, number>();
  corners.forEach((c, i) => {
    const known = main.get(triangles[c]);
    if (fans.parent[i] === i && (known === undefined || size[i] > size[known])) main.set(triangles[c], i);
  });
  const copyOf = new Map<number, { v: number; corners: number[] }>();
  const out = triangles.slice();
  corners.forEach((c, i) => {
    const root = fans.find(i);
    if (root === main.get(triangles[c])) return;
    let copy = copyOf.get(root);
    if (!copy) copyOf.set(root, (copy = { v: p.length / 3 + copyOf.size, corners: [] }));
    copy.corners.push(c);
    out[c] = copy.v;
  });
  if (copyOf.size === 0) return { mesh, cutEdges, cutVertices: 0, bridged };
  const positions = new Float32Array(p.length + 3 * copyOf.size);
  positions.set(p);
  for (const copy of copyOf.values()) {
    const v = triangles[copy.corners[0]];
    // drawn towards the middle of its own triangles
    const d = [0, 1, 2].map((k) => {
      let sum = 0;
      for (const c of copy.corners)
        for (let q = c - (c % 3); q < c - (c % 3) + 3; q++) sum += p[3 * triangles[q] + k] / 3;
      return sum / copy.corners.length - p[3 * v + k];
    });
    const length = Math.hypot(d[0], d[1], d[2]);
    const s = length > 0 ? Math.min(0.25, gap / length) : 0;
    for (let k = 0; k < 3; k++) positions[3 * copy.v + k] = p[3 * v + k] + s * d[k];
  }
  return { mesh: { positions, triangles: out }, cutEdges, cutVertices: copyOf.size, bridged };
}

/** Unites the fans at corners in which holes of one skin touch, but for those to be cut. Returns at how many. */
function bridge(mesh: TriMesh, corners: Uint32Array, fans: UnionFind, cut: Set<number>): number {
  const twin = twinsOf(mesh);
  // fans of a vertex by their open half-edges; a vertex at which any fan is not open once is left alone
  const at = new Map<number, Map<number, OpenFan>>();
  corners.forEach((c, i) => {
    const v = mesh.triangles[c];
    let fansHere = at.get(v);
    if (!fansHere) at.set(v, (fansHere = new Map<number, OpenFan>()));
    const root = fans.find(i);
    let fan = fansHere.get(root);
    if (!fan) fansHere.set(root, (fan = { leaves: -1, arrives: -1 }));
    if (twin[c] === OPEN) fan.leaves = c;
    const arrives = nextHalfEdge(nextHalfEdge(c));
    if (twin[arrives] === OPEN) fan.arrives = arrives;
  });
  let bridged = 0;
  for (const [v, fansHere] of at) {
    const list = [...fansHere.values()];
    if (list.length < 2 || cut.has(v) || list.some((f) => f.leaves < 0 || f.arrives < 0)) continue;
    if (!bridgedFans(mesh, v, list)) continue;
    const [first, ...rest] = fansHere.keys();
    for (const root of rest) fans.union(first, root);
    bridged++;
  }
  return bridged;
}

/** Angle below which faces around an edge lie on one another, radians: a few steps of float32. */
const sameAngle = 2e-6;

/** Pairs the half-edges of one edge: sorted by angle, each that runs back is joined to the next if that runs forward. */
function pairAround(mesh: TriMesh, sides: Uint32Array, bodies: boolean, pair: (a: number, b: number) => void): void {
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
  // what lies on one another goes first, and those on either side of it then stand next to each other
  for (let i = 0; i < list.length && list.length > 1;) {
    const j = (i + 1) % list.length;
    const [a, b] = [list[i], list[j]];
    const between = Math.abs(a.angle - b.angle);
    if (a.forward === b.forward || Math.min(between, 2 * Math.PI - between) > sameAngle) {
      i++;
    } else if (bodies) {
      // between the two there is no body, so that neither is paired with the other
      const [forward, back] = a.forward ? [a, b] : [b, a];
      list[i] = forward;
      list[j] = back;
      i += 2;
    } else {
      pair(a.forward ? b.h : a.h, a.forward ? a.h : b.h);
      list.splice(Math.max(i, j), 1);
      list.splice(Math.min(i, j), 1);
      i = Math.max(0, i - 1);
    }
  }
  for (let i = 0; i < list.length; i++) {
    const a = list[i];
    const b = list[(i + 1) % list.length];
    if (!a.forward && b.forward) pair(a.h, b.h);
  }
}
