import type { KeepOut } from '../../params/checks.ts';
import type { Shadow } from './Shadow.ts';

/** A place on a bed: the lower left corner of a shadow, in cells. */
export interface Place {
  x: number;
  y: number;
}

/** Which place is better among those that are free: towards the front and then the left, or the other way round. */
export type Lean = 'front' | 'left';

/** The cells of a bed, and what of it is taken. Places are found exactly, row by row, from stretches that may not overlap. */
export class BedCells {
  readonly nx: number;
  readonly ny: number;
  /** stretches that are taken, by row: first cell and the one behind the last, in order */
  private readonly taken: number[][];
  /** of each row the longest stretch that is free, and of all of them the cells that are */
  private readonly widest: Int32Array;
  free: number;
  private readonly marks: Int32Array;

  /** @param room x, y that may be used, mm; `keepOuts` in the same place */
  constructor(
    room: readonly [number, number],
    readonly cellMm: number,
    keepOuts: readonly KeepOut[] = [],
  ) {
    // a bed of whole cells but for rounding keeps its last one
    this.nx = Math.floor(room[0] / cellMm + 1e-6);
    this.ny = Math.floor(room[1] / cellMm + 1e-6);
    this.taken = Array.from({ length: this.ny }, () => []);
    this.widest = new Int32Array(this.ny).fill(this.nx);
    this.free = this.nx * this.ny;
    this.marks = new Int32Array(this.nx + 1);
    for (const { min, max } of keepOuts)
      for (let y = Math.max(0, Math.floor(min[1] / cellMm)); y < Math.min(this.ny, Math.ceil(max[1] / cellMm)); y++)
        this.take(y, Math.max(0, Math.floor(min[0] / cellMm)), Math.min(this.nx, Math.ceil(max[0] / cellMm)));
  }

  private take(y: number, from: number, to: number): void {
    if (from >= to) return;
    const row = this.taken[y];
    const merged: number[] = [];
    let [a, b] = [from, to];
    for (let k = 0; k < row.length; k += 2)
      if (row[k + 1] < a || row[k] > b) merged.push(row[k], row[k + 1]);
      else {
        a = Math.min(a, row[k]);
        b = Math.max(b, row[k + 1]);
      }
    let at = 0;
    while (at < merged.length && merged[at] < a) at += 2;
    merged.splice(at, 0, a, b);
    this.taken[y] = merged;
    let [widest, end, left] = [0, 0, this.nx];
    for (let k = 0; k < merged.length; k += 2) {
      widest = Math.max(widest, merged[k] - end);
      left -= merged[k + 1] - merged[k];
      end = merged[k + 1];
    }
    let before = this.nx;
    for (let k = 0; k < row.length; k += 2) before -= row[k + 1] - row[k];
    this.free -= before - left;
    this.widest[y] = Math.max(widest, this.nx - end);
  }

  /** First free x for a shadow whose lowest row is y; -1 where there is none. */
  private freeIn({ nx, ny, start, runs, longest }: Shadow, y: number): number {
    const { marks, widest } = this;
    for (let j = 0; j < ny; j++) if (longest[j] > widest[y + j]) return -1;
    const most = this.nx - nx;
    marks.fill(0, 0, most + 2);
    for (let j = 0; j < ny; j++) {
      const row = this.taken[y + j];
      if (row.length === 0) continue;
      for (let r = start[j]; r < start[j + 1]; r++) {
        const [from, to] = [runs[2 * r], runs[2 * r + 1]];
        for (let k = 0; k < row.length; k += 2) {
          // the stretch overlaps while x + from < taken end and x + to > taken begin
          const a = Math.max(0, row[k] - to + 1);
          const b = Math.min(most, row[k + 1] - from - 1);
          if (a > b) continue;
          marks[a]++;
          marks[b + 1]--;
        }
      }
    }
    let depth = 0;
    for (let x = 0; x <= most; x++) {
      depth += marks[x];
      if (depth === 0) return x;
    }
    return -1;
  }

  /** The best free place of a shadow; null where there is none. */
  find(shadow: Shadow, lean: Lean): Place | null {
    if (shadow.nx > this.nx || shadow.ny > this.ny || shadow.count > this.free) return null;
    let best: Place | null = null;
    for (let y = 0; y <= this.ny - shadow.ny; y++) {
      const x = this.freeIn(shadow, y);
      if (x < 0) continue;
      if (lean === 'front') return { x, y };
      if (!best || x < best.x) best = { x, y };
      if (best.x === 0) return best;
    }
    return best;
  }

  /** Is a place of a shadow on the bed, and nothing there? */
  isFree({ nx, ny, start, runs }: Shadow, { x, y }: Place): boolean {
    if (x < 0 || y < 0 || x + nx > this.nx || y + ny > this.ny) return false;
    for (let j = 0; j < ny; j++) {
      const row = this.taken[y + j];
      for (let r = start[j]; r < start[j + 1]; r++)
        for (let k = 0; k < row.length; k += 2)
          if (row[k] < x + runs[2 * r + 1] && row[k + 1] > x + runs[2 * r]) return false;
    }
    return true;
  }

  put({ ny, start, runs }: Shadow, { x, y }: Place): void {
    for (let j = 0; j < ny; j++)
      for (let r = start[j]; r < start[j + 1]; r++) this.take(y + j, x + runs[2 * r], x + runs[2 * r + 1]);
  }
}
