import { nextHalfEdge, triangleCount, vertexCount, type TriMesh } from './TriMesh.ts';
import { UnionFind } from './UnionFind.ts';

/**
 * All half-edges of a mesh, packed and grouped by undirected edge.
 *
 * `order[start[e] .. start[e + 1])` are the half-edges on edge e. Half-edges with both ends on one vertex
 * (collapsed triangles) are left out, with the rest of their triangle.
 */
export interface Edges {
  readonly order: Uint32Array;
  readonly start: Uint32Array;
  readonly count: number;
}

export const originOf = (mesh: TriMesh, h: number): number => mesh.triangles[h];
export const targetOf = (mesh: TriMesh, h: number): number => mesh.triangles[nextHalfEdge(h)];

/** Groups half-edges by edge with one counting sort over the smaller vertex: O(T) time, 28 bytes a half-edge. */
export function buildEdges(mesh: TriMesh): Edges {
  const { triangles } = mesh;
  const n = triangles.length;
  const first = new Uint32Array(vertexCount(mesh) + 1);
  const low = new Uint32Array(n);
  const high = new Uint32Array(n);
  let live = 0;
  for (let t = 0; t < n; t += 3) {
    const a = triangles[t];
    const b = triangles[t + 1];
    const c = triangles[t + 2];
    if (a === b || b === c || c === a) {
      low[t] = low[t + 1] = low[t + 2] = 0xffffffff;
      continue;
    }
    for (let k = 0; k < 3; k++) {
      const u = triangles[t + k];
      const v = triangles[k === 2 ? t : t + k + 1];
      low[t + k] = u < v ? u : v;
      high[t + k] = u < v ? v : u;
      first[low[t + k] + 1]++;
      live++;
    }
  }
  for (let v = 1; v < first.length; v++) first[v] += first[v - 1];
  const order = new Uint32Array(live);
  const cursor = first.slice();
  for (let h = 0; h < n; h++) if (low[h] !== 0xffffffff) order[cursor[low[h]]++] = h;
  const start = new Uint32Array(live + 1);
  let count = 0;
  for (let v = 0; v + 1 < first.length; v++) {
    const from = first[v];
    const to = first[v + 1];
    if (to - from > 48) order.subarray(from, to).sort((a, b) => high[a] - high[b] || a - b);
    else
      for (let i = from + 1; i < to; i++) {
        const h = order[i];
        const key = high[h];
        let j = i - 1;
        while (j >= from && high[order[j]] > key) {
          order[j + 1] = order[j];
          j--;
        }
        order[j + 1] = h;
      }
    for (let i = from; i < to; i++) if (i === from || high[order[i]] !== high[order[i - 1]]) start[count++] = i;
  }
  start[count] = live;
  return { order, start: start.slice(0, count + 1), count };
}

export const OPEN = -1;
export const NON_MANIFOLD = -2;

/**
 * Opposite half-edge of each: `OPEN` where nothing lies across, `NON_MANIFOLD` where the edge has more than two
 * sides or two that run the same way, so that following twins always keeps the orientation.
 */
export function twinsOf(mesh: TriMesh, edges: Edges): Int32Array {
  const twin = new Int32Array(mesh.triangles.length).fill(NON_MANIFOLD);
  const { order, start, count } = edges;
  for (let e = 0; e < count; e++) {
    const i = start[e];
    const sides = start[e + 1] - i;
    if (sides === 1) twin[order[i]] = OPEN;
    else if (sides === 2) {
      const a = order[i];
      const b = order[i + 1];
      if (originOf(mesh, a) !== originOf(mesh, b)) {
        twin[a] = b;
        twin[b] = a;
      }
    }
  }
  return twin;
}

/** Triangles grouped into shells: two triangles belong together when they share an edge. */
export function shellsOf(mesh: TriMesh, edges: Edges): { label: Uint32Array; count: number } {
  const sets = new UnionFind(triangleCount(mesh));
  const { order, start, count } = edges;
  for (let e = 0; e < count; e++)
    for (let i = start[e] + 1; i < start[e + 1]; i++) sets.union((order[i - 1] / 3) | 0, (order[i] / 3) | 0);
  return sets.labels();
}

/** Triangles of each label, as lists in mesh order. */
export function groupByLabel(label: Uint32Array, count: number): Uint32Array[] {
  const sizes = new Uint32Array(count);
  for (let i = 0; i < label.length; i++) sizes[label[i]]++;
  const groups = Array.from(sizes, (size) => new Uint32Array(size));
  sizes.fill(0);
  for (let i = 0; i < label.length; i++) groups[label[i]][sizes[label[i]]++] = i;
  return groups;
}

/** How many vertices have a star that falls into two or more fans not joined across an edge. */
export function splitVertices(mesh: TriMesh, edges: Edges): Uint32Array {
  const { triangles } = mesh;
  const fans = new UnionFind(triangles.length);
  const { order, start, count } = edges;
  const corner = (h: number, v: number) => (triangles[h] === v ? h : nextHalfEdge(h));
  for (let e = 0; e < count; e++) {
    const h = order[start[e]];
    const u = triangles[h];
    const v = triangles[nextHalfEdge(h)];
    for (let i = start[e] + 1; i < start[e + 1]; i++) {
      const g = order[i];
      fans.union(corner(h, u), corner(g, u));
      fans.union(corner(h, v), corner(g, v));
    }
  }
  const seen = new Uint8Array(vertexCount(mesh));
  const live = new Uint8Array(triangles.length);
  for (let i = 0; i < order.length; i++) live[order[i]] = 1;
  const split: number[] = [];
  for (let h = 0; h < triangles.length; h++)
    if (live[h] && fans.parent[h] === h) {
      const v = triangles[h];
      if (seen[v] === 1) split.push(v);
      if (seen[v] < 2) seen[v]++;
    }
  return Uint32Array.from(split);
}

/**
 * Loops of open half-edges. At a vertex with several open fans the loop turns within its own fan, unless `next` says
 * which half-edge follows one that arrives there.
 *
 * @returns each loop as half-edges in walking order; a chain that does not close comes out as a loop too
 */
export function openLoops(mesh: TriMesh, twin: Int32Array, next?: Map<number, number>): Uint32Array[] {
  const used = new Uint8Array(twin.length);
  const loops: Uint32Array[] = [];
  const byOrigin = new Map<number, number[]>();
  for (let h = 0; h < twin.length; h++)
    if (twin[h] === OPEN) {
      const list = byOrigin.get(originOf(mesh, h));
      if (list) list.push(h);
      else byOrigin.set(originOf(mesh, h), [h]);
    }
  for (const starts of byOrigin.values())
    for (const first of starts) {
      if (used[first]) continue;
      const loop: number[] = [];
      let h = first;
      while (!used[h]) {
        used[h] = 1;
        loop.push(h);
        let g = next?.get(h) ?? nextHalfEdge(h);
        let turns = 0;
        while (twin[g] >= 0 && turns++ < 1e5) g = nextHalfEdge(twin[g]);
        if (twin[g] !== OPEN || used[g]) {
          const free = (byOrigin.get(targetOf(mesh, h)) ?? []).find((c) => !used[c]);
          if (free === undefined) break;
          g = free;
        }
        h = g;
      }
      loops.push(Uint32Array.from(loop));
    }
  return loops;
}

/** Bounds of each label's triangles, 6 floats a label: min x, y, z, max x, y, z. */
export function boxesByLabel(mesh: TriMesh, label: Uint32Array, count: number): Float32Array {
  const boxes = new Float32Array(6 * count);
  for (let s = 0; s < count; s++) {
    boxes.fill(Infinity, 6 * s, 6 * s + 3);
    boxes.fill(-Infinity, 6 * s + 3, 6 * s + 6);
  }
  const { positions: p, triangles } = mesh;
  for (let h = 0; h < triangles.length; h++) {
    const o = 6 * label[(h / 3) | 0];
    for (let k = 0; k < 3; k++) {
      const x = p[3 * triangles[h] + k];
      if (x < boxes[o + k]) boxes[o + k] = x;
      if (x > boxes[o + 3 + k]) boxes[o + 3 + k] = x;
    }
  }
  return boxes;
}

export const diagonalOfLabel = (boxes: Float32Array, s: number): number =>
  Math.hypot(boxes[6 * s + 3] - boxes[6 * s], boxes[6 * s + 4] - boxes[6 * s + 1], boxes[6 * s + 5] - boxes[6 * s + 2]);
