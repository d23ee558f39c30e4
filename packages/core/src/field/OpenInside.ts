import type { RunContext } from '../run/context.ts';
import { OPEN, openLoops, originOf, twinsOf } from '../mesh/edges.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import type { WindingTree } from '../mesh/WindingTree.ts';
import type { EdgeHits } from './EdgeHits.ts';

interface Grid {
  origin: number[];
  cell: number;
  counts: number[];
}

/** Points of a block along a side are two to this power. */
const levels = 3;
const piece = 1 << levels;

/**
 * Which grid points lie inside an open mesh. Where no open loop is near, the sides change at the skin alone and are
 * carried on along uncrossed edges. Elsewhere the winding number is asked: at every point beside the skin, and farther
 * off at the corners of cubes that the skin stays clear of by their own size. In those it is harmonic, and told by
 * interpolation.
 */
export class OpenInside {
  /** bit per axis where the edge up from a point is crossed */
  private readonly crossed: Uint8Array;
  private readonly blocks: number[];
  private readonly doubt: Uint8Array;
  /** for cubes of 2, 4 and 8 points a side, flags of those in which a crossed edge starts */
  private readonly met: { flags: Uint8Array; counts: number[] }[] = [];
  /** winding numbers asked for in the layer of blocks at hand and the points on top of it; NaN elsewhere */
  private readonly asked: Float32Array;
  private readonly across: number;
  private readonly down: number;
  private lowest = 0;

  constructor(
    mesh: TriMesh,
    private readonly inside: Uint8Array,
    hits: [EdgeHits, EdgeHits, EdgeHits],
    private readonly grid: Grid,
    private readonly winding: WindingTree,
  ) {
    const { counts } = grid;
    this.crossed = new Uint8Array(inside.length);
    hits.forEach((h, axis) => {
      for (let i = 0; i < h.edge.length; i++) this.crossed[h.edge[i]] |= 1 << axis;
    });
    this.blocks = counts.map((n) => Math.ceil(n / piece));
    this.doubt = doubtfulBlocks(mesh, grid, this.blocks);
    for (let level = 1; level <= levels; level++) this.met.push(this.cubesMet(hits, level));
    this.across = this.blocks[0] * piece + 1;
    this.down = this.blocks[1] * piece + 1;
    this.asked = new Float32Array(this.across * this.down * (piece + 1)).fill(NaN);
  }

  fill(context: RunContext): void {
    const [bx, by, bz] = this.blocks;
    const [, ny, nz] = this.grid.counts;
    const flat = this.across * this.down;
    for (let layer = 0; layer < bz; layer++) {
      this.lowest = layer * piece;
      for (let y = 0; y < by; y++) {
        context.checkCancelled();
        context.progress(0.4 + (0.6 * (layer + y / by)) / bz, 'Telling inside from outside');
        for (let x = 0; x < bx; x++)
          if (this.doubt[x + bx * (y + by * layer)]) this.fillCube(x * piece, y * piece, this.lowest, levels);
      }
      for (let k = this.lowest; k < Math.min(nz, this.lowest + piece); k++)
        for (let j = 0; j < ny; j++) this.fillRow(j, k);
      // the points on top are the lowest of the next layer
      this.asked.copyWithin(0, flat * piece);
      this.asked.fill(NaN, flat);
    }
  }

  private cubesMet(hits: EdgeHits[], level: number): { flags: Uint8Array; counts: number[] } {
    const [nx, ny] = this.grid.counts;
    const counts = this.grid.counts.map((n) => (n >> level) + 1);
    const flags = new Uint8Array(counts[0] * counts[1] * counts[2]);
    for (const { edge } of hits)
      for (let i = 0; i < edge.length; i++) {
        const line = Math.floor(edge[i] / nx);
        const z = Math.floor(line / ny);
        const x = (edge[i] - line * nx) >> level;
        flags[x + counts[0] * (((line - z * ny) >> level) + counts[1] * (z >> level))] = 1;
      }
    return { flags, counts };
  }

  /** Is there no crossed edge in a cube and its neighbours of the same size? */
  private isClear(x: number, y: number, z: number, level: number): boolean {
    const { flags, counts } = this.met[level - 1];
    const from = [x, y, z].map((i) => Math.max(0, (i >> level) - 1));
    const to = [x, y, z].map((i, k) => Math.min(counts[k] - 1, (i >> level) + 1));
    for (let k = from[2]; k <= to[2]; k++)
      for (let j = from[1]; j <= to[1]; j++)
        for (let i = from[0]; i <= to[0]; i++) if (flags[i + counts[0] * (j + counts[1] * k)]) return false;
    return true;
  }

  private ask(i: number, j: number, k: number): number {
    const { asked, grid } = this;
    const at = i + this.across * (j + this.down * (k - this.lowest));
    if (Number.isNaN(asked[at])) {
      const { origin, cell } = grid;
      asked[at] = this.winding.at(origin[0] + i * cell, origin[1] + j * cell, origin[2] + k * cell);
    }
    return asked[at];
  }

  private fillCube(x: number, y: number, z: number, level: number): void {
    const [nx, ny, nz] = this.grid.counts;
    if (x >= nx || y >= ny || z >= nz) return;
    if (level === 0) {
      if (this.ask(x, y, z) > 0.5) this.inside[x + nx * (y + ny * z)] = 1;
      return;
    }
    const size = 1 << level;
    if (this.isClear(x, y, z, level)) {
      this.interpolate(x, y, z, size);
      return;
    }
    const half = size >> 1;
    for (let c = 0; c < 8; c++)
      this.fillCube(x + (c & 1 ? half : 0), y + (c & 2 ? half : 0), z + (c & 4 ? half : 0), level - 1);
  }

  private interpolate(x: number, y: number, z: number, size: number): void {
    const { inside } = this;
    const [nx, ny, nz] = this.grid.counts;
    const w: number[] = [];
    for (let c = 0; c < 8; c++)
      w.push(this.ask(x + (c & 1 ? size : 0), y + (c & 2 ? size : 0), z + (c & 4 ? size : 0)) - 0.5);
    const to = Math.min(nx, x + size);
    const mixed = w.some((v) => v > 0 !== w[0] > 0);
    if (!mixed && !(w[0] > 0)) return;
    for (let k = z; k < Math.min(nz, z + size); k++)
      for (let j = y; j < Math.min(ny, y + size); j++) {
        const row = nx * (j + ny * k);
        if (!mixed) {
          inside.fill(1, row + x, row + to);
          continue;
        }
        const v = (j - y) / size;
        const u = (k - z) / size;
        const at = (c: number) => (1 - u) * ((1 - v) * w[c] + v * w[c + 2]) + u * ((1 - v) * w[c + 4] + v * w[c + 6]);
        const a = at(0);
        const b = at(1);
        for (let i = x; i < to; i++) inside[row + i] = a + ((b - a) * (i - x)) / size > 0 ? 1 : 0;
      }
  }

  /** The points of a row that are in no doubt: a piece between crossings has the side of a neighbour, if one is known. */
  private fillRow(j: number, k: number): void {
    const { inside, crossed } = this;
    const [nx, ny] = this.grid.counts;
    const row = nx * (j + ny * k);
    const doubtRow = this.blocks[0] * ((j >> levels) + this.blocks[1] * (k >> levels));
    let i = 0;
    let known = 0; // outside the grid
    while (i < nx) {
      if (this.doubt[doubtRow + (i >> levels)]) {
        i = (i | (piece - 1)) + 1;
        known = -1;
        continue;
      }
      let end = i + 1;
      const stop = Math.min(nx, (i | (piece - 1)) + 1);
      while (end < stop && !(crossed[row + end - 1] & 1)) end++;
      let value = known;
      for (let q = i; q < end && value < 0; q++) {
        if (q > 0 && q === i && !(crossed[row + q - 1] & 1)) value = inside[row + q - 1];
        else if (j > 0 && !(crossed[row + q - nx] & 2)) value = inside[row + q - nx];
        else if (k > 0 && !(crossed[row + q - nx * ny] & 4)) value = inside[row + q - nx * ny];
      }
      if (value < 0) value = this.ask((i + end - 1) >> 1, j, k) > 0.5 ? 1 : 0;
      if (value === 1) inside.fill(1, row + i, row + end);
      known = crossed[row + end - 1] & 1 ? -1 : value;
      i = end;
    }
  }
}

/** Blocks of `piece` points a side near open loops: where it takes a fifth or more off the winding number. */
function doubtfulBlocks(mesh: TriMesh, { origin, cell }: Grid, blocks: number[]): Uint8Array {
  const twin = twinsOf(mesh);
  const flags = new Uint8Array(blocks[0] * blocks[1] * blocks[2]);
  const p = mesh.positions;
  const mark = (lo: number[], hi: number[], reach: number): void => {
    const from = lo.map((x, k) => Math.max(0, Math.floor((x - reach - origin[k]) / cell / piece)));
    const to = hi.map((x, k) => Math.min(blocks[k] - 1, Math.floor((x + reach - origin[k]) / cell / piece)));
    for (let k = from[2]; k <= to[2]; k++)
      for (let j = from[1]; j <= to[1]; j++) {
        const row = blocks[0] * (j + blocks[1] * k);
        flags.fill(1, row + from[0], row + to[0] + 1);
      }
  };
  for (const loop of openLoops(mesh)) {
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (const h of loop)
      for (let k = 0; k < 3; k++) {
        lo[k] = Math.min(lo[k], p[3 * originOf(mesh, h) + k]);
        hi[k] = Math.max(hi[k], p[3 * originOf(mesh, h) + k]);
      }
    mark(lo, hi, 0.4 * Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) + 2 * cell);
  }
  // edges with too many sides, or sides that disagree, bound the sheets as well
  for (let h = 0; h < twin.length; h++)
    if (twin[h] < 0 && twin[h] !== OPEN) {
      const at = [0, 1, 2].map((k) => p[3 * originOf(mesh, h) + k]);
      mark(at, at, 4 * cell);
    }
  return flags;
}
