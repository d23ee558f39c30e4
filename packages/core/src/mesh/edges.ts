import { oncePerMesh } from './oncePerMesh.ts';
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

/** Edges of a mesh, worked out once: one counting sort over the smaller vertex, O(T) time. */
export const edgesOf = oncePerMesh(groupHalfEdges);

function groupHalfEdges(mesh: TriMesh): Edges {
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
const NON_MANIFOLD = -2;

/**
 * Opposite half-edge of each, worked out once: `OPEN` where nothing lies across, `NON_MANIFOLD` where the edge has more
 * than two sides or two that run the same way, so that following twins always keeps the orientation.
 */
export const twinsOf = oncePerMesh(pairHalfEdges);

function pairHalfEdges(mesh: TriMesh): Int32Array {
  const twin = new Int32Array(mesh.triangles.length).fill(NON_MANIFOLD);
  const { order, start, count } = edgesOf(mesh);
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

/** Triangles grouped into shells, worked out once: two triangles belong together when they share an edge. */
export const shellsOf = oncePerMesh(groupByEdges);

function groupByEdges(mesh: TriMesh): { label: Uint32Array; count: number } {
  const sets = new UnionFind(triangleCount(mesh));
  const { order, start, count } = edgesOf(mesh);
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

/** Triangles at each vertex, worked out once: `list[start[v] .. start[v + 1])`, in order. */
export const starsOf = oncePerMesh((mesh: TriMesh): { start: Uint32Array; list: Uint32Array } => {
  const { triangles } = mesh;
  const start = new Uint32Array(vertexCount(mesh) + 1);
  for (let h = 0; h < triangles.length; h++) start[triangles[h] + 1]++;
  for (let v = 1; v < start.length; v++) start[v] += start[v - 1];
  const list = new Uint32Array(triangles.length);
  const at = start.slice();
  for (let h = 0; h < triangles.length; h++) list[at[triangles[h]]++] = (h / 3) | 0;
  return { start, list };
});

/**
 * Flags of the vertices whose triangles do not hang together in one fan by their twins: where sheets touch in a point,
 * or along an edge that has no twins. Worked out once.
 */
export const brokenStars = oncePerMesh(walkStars);

function walkStars(mesh: TriMesh): Uint8Array {
  const { triangles } = mesh;
  const twin = twinsOf(mesh);
  const n = vertexCount(mesh);
  const sides = new Uint32Array(n);
  const first = new Uint32Array(n);
  for (let t = 0; t < triangles.length; t += 3) {
    if (isCollapsed(triangles, t)) continue;
    for (let h = t; h < t + 3; h++) if (sides[triangles[h]]++ === 0) first[triangles[h]] = h;
  }
  const broken = new Uint8Array(n);
  for (let v = 0; v < n; v++) {
    if (sides[v] === 0) continue;
    // round the vertex from its first corner, and the other way too where the skin is open
    let met = 1;
    let h = twin[first[v]];
    while (h >= 0 && (h = nextHalfEdge(h)) !== first[v]) {
      met++;
      h = twin[h];
    }
    if (h < 0) {
      h = first[v];
      while ((h = twin[nextHalfEdge(nextHalfEdge(h))]) >= 0) met++;
    }
    if (met < sides[v]) broken[v] = 1;
  }
  return broken;
}

/** Vertices whose star falls into two or more fans not joined across an edge. */
export function splitVertices(mesh: TriMesh): Uint32Array {
  const broken = brokenStars(mesh);
  if (!broken.includes(1)) return new Uint32Array(0);
  const { triangles } = mesh;
  const { order, start, count } = edgesOf(mesh);
  const fans = new UnionFind(triangles.length);
  const corner = (h: number, v: number) => (triangles[h] === v ? h : nextHalfEdge(h));
  for (let e = 0; e < count; e++) {
    const h = order[start[e]];
    for (const v of [triangles[h], triangles[nextHalfEdge(h)]])
      if (broken[v]) for (let i = start[e] + 1; i < start[e + 1]; i++) fans.union(corner(h, v), corner(order[i], v));
  }
  const seen = new Uint8Array(vertexCount(mesh));
  const split: number[] = [];
  for (let h = 0; h < triangles.length; h++) {
    const v = triangles[h];
    if (!broken[v] || fans.parent[h] !== h || isCollapsed(triangles, h - (h % 3))) continue;
    if (seen[v] === 1) split.push(v);
    if (seen[v] < 2) seen[v]++;
  }
  return Uint32Array.from(split);
}

/** Has the triangle that begins at half-edge `t` two corners on one vertex? */
const isCollapsed = (triangles: Uint32Array, t: number): boolean =>
  triangles[t] === triangles[t + 1] || triangles[t + 1] === triangles[t + 2] || triangles[t + 2] === triangles[t];

/** Open half-edges, worked out once. */
export interface OpenEdges {
  /** all of them, in order */
  list: Uint32Array;
  /** for each vertex the place in the list of the first that leaves it, or -1 */
  first: Int32Array;
  /** for each in the list the place of the next that leaves the same vertex, or -1 */
  after: Int32Array;
}

export const openEdgesOf = oncePerMesh((mesh: TriMesh): OpenEdges => {
  const twin = twinsOf(mesh);
  let count = 0;
  for (let h = 0; h < twin.length; h++) if (twin[h] === OPEN) count++;
  const list = new Uint32Array(count);
  const first = new Int32Array(vertexCount(mesh)).fill(-1);
  const after = new Int32Array(count).fill(-1);
  for (let h = twin.length - 1; h >= 0; h--) {
    if (twin[h] !== OPEN) continue;
    list[--count] = h;
    after[count] = first[originOf(mesh, h)];
    first[originOf(mesh, h)] = count;
  }
  return { list, first, after };
});

/**
 * Loops of open half-edges. At a vertex with several open fans the loop turns within its own fan, unless `next` says
 * which half-edge follows one that arrives there.
 *
 * @returns each loop as half-edges in walking order; a chain that does not close comes out as a loop too
 */
export function openLoops(mesh: TriMesh, next?: Map<number, number>): Uint32Array[] {
  const twin = twinsOf(mesh);
  const { list, first, after } = openEdgesOf(mesh);
  const used = new Uint8Array(list.length > 0 ? twin.length : 0);
  const loops: Uint32Array[] = [];
  for (let i = 0; i < list.length; i++) {
    if (first[originOf(mesh, list[i])] !== i) continue;
    for (let e = i; e >= 0; e = after[e]) {
      let h = list[e];
      if (used[h]) continue;
      const loop: number[] = [];
      while (!used[h]) {
        used[h] = 1;
        loop.push(h);
        let g = next?.get(h) ?? nextHalfEdge(h);
        let turns = 0;
        while (twin[g] >= 0 && turns++ < 1e5) g = nextHalfEdge(twin[g]);
        if (twin[g] !== OPEN || used[g]) {
          let free = first[targetOf(mesh, h)];
          while (free >= 0 && used[list[free]]) free = after[free];
          if (free < 0) break;
          g = list[free];
        }
        h = g;
      }
      loops.push(Uint32Array.from(loop));
    }
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
