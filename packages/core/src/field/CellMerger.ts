import { isPlain, maskAt } from './cellPatches.ts';
import { widened, type GridSkin } from './GridSkin.ts';
import { addSums, distanceToPlanes, placeInPlanes, sumsOf } from './planeSums.ts';
import type { ScannedBody } from './scanConvert.ts';

/** Largest cube of cells that one vertex may stand for, as a power of two cells a side. */
const largest = 2;

/**
 * Lets one vertex stand for those of a cube of cells, and again for a cube of such cubes, where its planes meet within
 * the tolerance and the shape of the skin stays what it was: the octree and the topology test of Ju et al. 2002. Sums
 * are added up in the vertex that stays. Goes along with the skin while it is built, slab by slab.
 */
export class CellMerger {
  /** for each vertex the one that stands for it, once `end` was called */
  by = new Uint32Array(1 << 14);
  /** size in cells of the cube that each vertex speaks for */
  size = new Uint8Array(1 << 14);
  private known = 0;
  /** first vertex of each layer */
  private readonly starts: number[] = [];
  /** the vertices of each cube of a slab, linked from the last to the first */
  private readonly last: Int32Array;
  private next = new Int32Array(1 << 14);
  private readonly at = new Float64Array(3);
  private readonly total = new Float64Array(sumsOf);

  /** @param tolerance how far planes may lie from the vertex that stands for them, root mean square, in cells */
  constructor(
    private readonly skin: GridSkin,
    private readonly body: ScannedBody,
    private readonly tolerance: number,
  ) {
    this.last = new Int32Array(((body.counts[0] >> 1) + 1) * ((body.counts[1] >> 1) + 1)).fill(-1);
  }

  /** Takes up the vertices of layer k of cells, and merges the cubes that it completes. */
  afterLayer(k: number): void {
    const n = this.skin.vertices;
    if (n > this.by.length) {
      const more = Math.max(n, 2 * this.by.length);
      this.by = widened(this.by, new Uint32Array(more));
      this.size = widened(this.size, new Uint8Array(more));
      this.next = widened(this.next, new Int32Array(more));
    }
    this.starts.push(this.known);
    for (let i = this.known; i < n; i++) {
      this.by[i] = i;
      this.size[i] = 1;
    }
    this.known = n;
    for (let level = 1; level <= largest; level++)
      if ((k + 1) % (1 << level) === 0) this.mergeSlab(level, this.starts[k + 1 - (1 << level)]);
  }

  end(): void {
    // who was stood for several times: the last of a cube stands for it, and so comes after those it stands for
    for (let i = this.known - 1; i >= 0; i--) this.by[i] = this.by[this.by[i]];
  }

  private mergeSlab(level: number, first: number): void {
    const { skin, body, tolerance, by, size, next, last, at, total } = this;
    const { base, sums } = skin;
    const { counts, inside } = body;
    const layer = counts[0] * counts[1];
    const whole = 1 << level;
    const half = whole >> 1;
    const across = (counts[0] >> level) + 1;
    const met: number[] = [];
    for (let i = first; i < this.known; i++) {
      if (by[i] !== i) continue;
      const block = (base[3 * i] >> level) + across * (base[3 * i + 1] >> level);
      if (last[block] < 0) met.push(block);
      next[i] = last[block];
      last[block] = i;
    }
    for (const block of met) {
      const head = last[block];
      last[block] = -1;
      const x = (base[3 * head] >> level) << level;
      const y = (base[3 * head + 1] >> level) << level;
      const z = (base[3 * head + 2] >> level) << level;
      if (x + whole >= counts[0] || y + whole >= counts[1] || z + whole >= counts[2]) continue;
      let taken = 0;
      let fits = true;
      for (let v = head; v >= 0 && fits; v = next[v]) {
        const o = 3 * v;
        const cell =
          1 << ((base[o] - x >= half ? 1 : 0) + (base[o + 1] - y >= half ? 2 : 0) + (base[o + 2] - z >= half ? 4 : 0));
        // a smaller cube that could not be merged, or a second patch of skin in one cell
        fits = size[v] === half && !(taken & cell);
        taken |= cell;
      }
      if (!fits || !staysPlain(inside, x + y * counts[0] + z * layer, half, counts[0], layer)) continue;
      total.fill(0);
      for (let v = head; v >= 0; v = next[v])
        addSums(total, sums, sumsOf * v, base[3 * v] - x, base[3 * v + 1] - y, base[3 * v + 2] - z);
      placeInPlanes(total, 0, whole, at);
      if (distanceToPlanes(total, at) > tolerance) continue;
      sums.set(total, sumsOf * head);
      base[3 * head] = x;
      base[3 * head + 1] = y;
      base[3 * head + 2] = z;
      size[head] = whole;
      for (let v = next[head]; v >= 0; v = next[v]) by[v] = head;
    }
  }
}

/**
 * Whether the skin in a cube can be told by the cube's corners alone, as one patch: signs half-way along an edge, a
 * side and the cube are found at a corner of theirs (Ju et al. 2002).
 */
function staysPlain(inside: Uint8Array, first: number, half: number, row: number, layer: number): boolean {
  const y = half * row;
  const z = half * layer;
  if (!isPlain[maskAt(inside, first, 2 * half, 2 * y, 2 * z)]) return false;
  for (let k = 0; k < 3; k++)
    for (let j = 0; j < 3; j++)
      for (let i = 0; i < 3; i++) {
        if (i !== 1 && j !== 1 && k !== 1) continue;
        const sign = inside[first + half * i + y * j + z * k];
        let found = false;
        for (let c = 0; c < 8 && !found; c++) {
          const ci = i === 1 ? 2 * (c & 1) : i;
          const cj = j === 1 ? c & 2 : j;
          const ck = k === 1 ? (c & 4) >> 1 : k;
          found = inside[first + half * ci + y * cj + z * ck] === sign;
        }
        if (!found) return false;
      }
  return true;
}
