import { GrowableIndices } from '../mesh/Growable.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { edgeNumber, edgesByPatch, maskAt, patchCount, patchOf } from './cellPatches.ts';
import { sumsOf } from './planeSums.ts';
import type { EdgeHits } from './EdgeHits.ts';
import { normalsOf, type ScannedBody } from './scanConvert.ts';

/** Corners that the three free cells and the shared one lie below a grid edge, in walking order seen along it. */
const around = [
  [1, 1],
  [0, 1],
  [0, 0],
  [1, 0],
];

/**
 * The skin of a scanned body on its grid, built layer by layer: one vertex for each patch of skin in a cell, one quad
 * for each grid edge that the skin crosses. Arrays that go from layer to layer are never cleared: a cell asks only for
 * edges that are crossed, and a crossed edge only for cells that have skin, and those have just been written.
 */
export class GridSkin {
  vertices = 0;
  /** plane sums of each vertex, see `planeSums` */
  sums = new Float32Array(sumsOf << 14);
  /** lower corner of each vertex's cell, in grid points */
  base = new Uint16Array(3 << 14);
  /** four vertices each, in walking order seen from outside */
  readonly quads = new GrowableIndices(4 << 14);

  /** crossed edges: their lower end, where along they are crossed, and the triangle there, or -1; twice the axis plus 1 if the axis leaves the body */
  private edges = 0;
  private edgeAt = new Uint32Array(1 << 14);
  private along = new Float32Array(1 << 14);
  private triangle = new Int32Array(1 << 14);
  private way = new Uint8Array(1 << 14);
  /** numbers of the crossed edges by lower end within the layer: along x and y of two layers of points, along z of one of cells */
  private readonly slots: Int32Array[];
  /** first vertex of each cell of two layers; below 0, minus two less it, where the cell has several */
  private readonly cells: [Int32Array, Int32Array];
  /** the crossed edges along x and y of the last layer of points: first, and first after them */
  private flat = [0, 0];
  private readonly cursor = [0, 0, 0];
  private readonly normal: Float32Array;
  private readonly words: Uint32Array;

  constructor(
    private readonly body: ScannedBody,
    source: TriMesh,
  ) {
    const { counts, inside } = body;
    this.normal = normalsOf(source);
    const layer = counts[0] * counts[1];
    this.slots = Array.from({ length: 5 }, () => new Int32Array(layer));
    this.cells = [new Int32Array(layer), new Int32Array(layer)];
    // four points at a time: nearly all of them lie wholly inside or outside, with all their neighbours
    this.words = new Uint32Array(inside.buffer, inside.byteOffset, inside.length >> 2);
  }

  /** Adds the layer of cells that starts at layer k of points. Layers come in order, from 0 to the last but one. */
  addLayer(k: number): void {
    const layer = this.body.counts[0] * this.body.counts[1];
    const [x, y, z] = this.body.counts;
    const { flat } = this;
    const from = this.edges;
    if (k + 2 < z) this.findFlat((k + 1) * layer, (k + 1) & 1, y);
    this.flat = [from, this.edges];
    this.findUp(k * layer);
    this.makeVertices(k, x, y);
    for (let e = flat[0]; e < flat[1]; e++) this.addQuad(e, k);
    for (let e = this.flat[1]; e < this.edges; e++) this.addQuad(e, k);
  }

  /** The words in which a row of points, or the rows after and above it, can have anything but outside. */
  private span(row: number, after: number, above: number): { from: number; to: number } {
    const { spans } = this.body;
    const { found } = this;
    found.from = 0xffff;
    found.to = 0;
    for (const r of [row, row + after, row + above, row + after + above]) {
      if (spans[2 * r] < found.from) found.from = spans[2 * r];
      if (spans[2 * r + 1] > found.to) found.to = spans[2 * r + 1];
    }
    // the edge before the first point inside, and the one after the last
    found.from = Math.max(0, found.from - 1) >> 2;
    found.to = (found.to + 3) >> 2;
    return found;
  }

  private readonly found = { from: 0, to: 0 };

  /** Edges along x and y that start in a layer of points. */
  private findFlat(first: number, parity: number, rows: number): void {
    const { inside, counts } = this.body;
    const { words } = this;
    const nx = counts[0];
    const row = nx >> 2;
    for (let j = 0; j + 1 < rows; j++) {
      const line = (first >> 2) + row * j;
      const { from, to } = this.span(first / nx + j, 1, 0);
      for (let i = line + from; i < line + to; i++) {
        const w = words[i];
        if (w === words[i + row] && ((w === 0 && !(words[i + 1] & 1)) || (w === 0x01010101 && words[i + 1] & 1)))
          continue;
        for (let e = 4 * i; e < 4 * i + 4; e++) {
          if (inside[e] !== inside[e + 1]) this.slots[parity][e - first] = this.addEdge(0, e);
          if (inside[e] !== inside[e + nx]) this.slots[2 + parity][e - first] = this.addEdge(1, e);
        }
      }
    }
  }

  /** Edges along z that start in a layer of points. */
  private findUp(first: number): void {
    const { inside, counts } = this.body;
    const { words } = this;
    const [nx, rows] = counts;
    const layer = nx * rows;
    for (let j = 0; j < rows; j++) {
      const line = (first + nx * j) >> 2;
      const { from, to } = this.span(first / nx + j, 0, rows);
      for (let i = line + from; i < line + to; i++)
        if (words[i] !== words[i + (layer >> 2)])
          for (let e = 4 * i; e < 4 * i + 4; e++)
            if (inside[e] !== inside[e + layer]) this.slots[4][e - first] = this.addEdge(2, e);
    }
  }

  private addEdge(axis: number, e: number): number {
    const { body, cursor } = this;
    const hits = body.hits[axis];
    let c = cursor[axis];
    while (c < hits.edge.length && hits.edge[c] < e) c++;
    cursor[axis] = c;
    const leaves = body.inside[e] === 1;
    const hit = pickHit(hits, c, e, leaves);
    if (this.edges === this.edgeAt.length) {
      this.edgeAt = widened(this.edgeAt, new Uint32Array(2 * this.edges));
      this.along = widened(this.along, new Float32Array(2 * this.edges));
      this.triangle = widened(this.triangle, new Int32Array(2 * this.edges));
      this.way = widened(this.way, new Uint8Array(2 * this.edges));
    }
    const at = this.edges++;
    this.edgeAt[at] = e;
    this.way[at] = 2 * axis + (leaves ? 1 : 0);
    this.triangle[at] = hit >= 0 ? hits.triangle[hit] : -1;
    this.along[at] = hit >= 0 ? hits.along[hit] : body.winding ? halfway(body, e, axis) : 0.5;
    return at;
  }

  private makeVertices(k: number, nx: number, rows: number): void {
    const { words } = this;
    const { inside, counts } = this.body;
    const layer = nx * counts[1];
    const first = k * layer;
    const row = nx >> 2;
    const up = layer >> 2;
    for (let j = 0; j + 1 < rows; j++) {
      const line = (first >> 2) + row * j;
      const { from, to } = this.span(first / nx + j, 1, counts[1]);
      for (let i = line + from; i < line + to; i++) {
        const w = words[i];
        if (
          w === words[i + row] &&
          w === words[i + up] &&
          w === words[i + up + row] &&
          (w === 0 || w === 0x01010101) &&
          (((words[i + 1] ^ w) | (words[i + 1 + row] ^ w) | (words[i + 1 + up] ^ w) | (words[i + 1 + up + row] ^ w)) &
            1) ===
            0
        )
          continue;
        for (let c = 4 * i; c < 4 * i + 4; c++) {
          const mask = maskAt(inside, c, 1, nx, layer);
          if (mask !== 0 && mask !== 255) this.addCell(c - first, k, mask);
        }
      }
    }
  }

  private addCell(c: number, k: number, mask: number): void {
    this.cells[k & 1][c] = patchCount[mask] === 1 ? this.vertices : -2 - this.vertices;
    const end = 12 * mask + 12;
    let from = 12 * mask;
    for (let i = from + 1; i <= end; i++) {
      const listed = i < end && edgesByPatch[i] >= 0;
      if (listed && edgesByPatch[i] < 16) continue;
      this.addVertex(c, k, from, i);
      if (!listed) break;
      from = i;
    }
  }

  /** @param from where in `edgesByPatch` the edges of the patch are listed, up to `to` */
  private addVertex(c: number, k: number, from: number, to: number): void {
    const { slots, along, triangle, normal } = this;
    const nx = this.body.counts[0];
    const below = k & 1;
    const above = 1 - below;
    const v = this.vertices++;
    if (sumsOf * this.vertices > this.sums.length) {
      this.sums = widened(this.sums, new Float32Array(2 * this.sums.length));
      this.base = widened(this.base, new Uint16Array(2 * this.base.length));
    }
    const y = Math.floor(c / nx);
    this.base[3 * v] = c - nx * y;
    this.base[3 * v + 1] = y;
    this.base[3 * v + 2] = k;
    let xx = 0;
    let xy = 0;
    let xz = 0;
    let yy = 0;
    let yz = 0;
    let zz = 0;
    let dx = 0;
    let dy = 0;
    let dz = 0;
    let sx = 0;
    let sy = 0;
    let sz = 0;
    let n = 0;
    let dd = 0;
    for (let i = from; i < to; i++) {
      const e = edgesByPatch[i] & 15;
      const q = e & 3;
      let edge: number;
      let px: number;
      let py: number;
      let pz: number;
      if (e < 4) {
        py = q & 1;
        pz = q >> 1;
        edge = slots[pz ? above : below][c + (py ? nx : 0)];
        px = along[edge];
      } else if (e < 8) {
        px = q & 1;
        pz = q >> 1;
        edge = slots[2 + (pz ? above : below)][c + px];
        py = along[edge];
      } else {
        px = q & 1;
        py = q >> 1;
        edge = slots[4][c + px + (py ? nx : 0)];
        pz = along[edge];
      }
      n++;
      sx += px;
      sy += py;
      sz += pz;
      const t = 3 * triangle[edge];
      if (t < 0) continue;
      const ax = normal[t];
      const ay = normal[t + 1];
      const az = normal[t + 2];
      const d = ax * px + ay * py + az * pz;
      xx += ax * ax;
      xy += ax * ay;
      xz += ax * az;
      yy += ay * ay;
      yz += ay * az;
      zz += az * az;
      dx += ax * d;
      dy += ay * d;
      dz += az * d;
      dd += d * d;
    }
    const s = this.sums;
    const o = sumsOf * v;
    s[o] = xx;
    s[o + 1] = xy;
    s[o + 2] = xz;
    s[o + 3] = yy;
    s[o + 4] = yz;
    s[o + 5] = zz;
    s[o + 6] = dx;
    s[o + 7] = dy;
    s[o + 8] = dz;
    s[o + 9] = sx;
    s[o + 10] = sy;
    s[o + 11] = sz;
    s[o + 12] = n;
    s[o + 13] = dd;
  }

  /** The quad around a crossed edge that the layer k of cells is the last to touch. */
  private addQuad(edge: number, k: number): void {
    const { inside, counts } = this.body;
    const nx = counts[0];
    const layer = nx * counts[1];
    const axis = this.way[edge] >> 1;
    const e = this.edgeAt[edge];
    const u = (axis + 1) % 3;
    const v = (axis + 2) % 3;
    const first = k * layer;
    for (let c = 0; c < 4; c++) {
      const [du, dv] = around[c];
      const lower = (du << u) | (dv << v);
      const cell = e - (lower & 1) - (lower & 2 ? nx : 0) - (lower & 4 ? layer : 0);
      const inLast = cell >= first;
      let vertex = this.cells[inLast ? k & 1 : (k + 1) & 1][cell - first + (inLast ? 0 : layer)];
      if (vertex < 0)
        vertex = -2 - vertex + patchOf[12 * maskAt(inside, cell, 1, nx, layer) + edgeNumber[8 * axis + lower]];
      quad[c] = vertex;
    }
    if (this.way[edge] & 1) this.quads.push4(quad[0], quad[1], quad[2], quad[3]);
    else this.quads.push4(quad[0], quad[3], quad[2], quad[1]);
  }
}

const quad = new Uint32Array(4);

/** A larger array with the same beginning. */
export function widened<A extends Float32Array | Uint32Array | Int32Array | Uint16Array | Uint8Array>(
  from: A,
  to: A,
): A {
  to.set(from);
  return to;
}

/** Of the crossings on a grid edge, the outermost that goes the way wanted; -1 if there is none. */
function pickHit(hits: EdgeHits, from: number, edge: number, leaves: boolean): number {
  let found = -1;
  for (let i = from; i < hits.edge.length && hits.edge[i] === edge; i++)
    if ((hits.leaving[i] === 1) === leaves) {
      found = i;
      if (!leaves) break;
    }
  return found;
}

/** Where the winding number passes a half on an edge that no triangle crosses: it runs nearly straight there. */
function halfway(body: ScannedBody, e: number, axis: number): number {
  const { origin, cell, counts } = body;
  const line = Math.floor(e / counts[0]);
  const z = Math.floor(line / counts[1]);
  const g = [e - line * counts[0], line - z * counts[1], z];
  const p = [0, 1, 2].map((k) => origin[k] + cell * g[k]);
  const from = body.winding!.at(p[0], p[1], p[2]) - 0.5;
  p[axis] += cell;
  const to = body.winding!.at(p[0], p[1], p[2]) - 0.5;
  return from > 0 !== to > 0 ? Math.min(0.98, Math.max(0.02, from / (from - to))) : 0.5;
}
