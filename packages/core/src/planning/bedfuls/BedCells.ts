import type { KeepOut } from '../../params/checks.ts';
import type { Shadow } from './Shadow.ts';

/** A place on a bed: the lower left corner of a shadow, in cells. */
export interface Place {
  x: number;
  y: number;
}

/** Which place is better among those that are free: towards the front and then the left, or the other way round. */
export type Lean = 'front' | 'left';

/** What fits but for rounding fits (`enough`, `bedFit`), as a share and in mm. */
const roundingShare = 1e-5;
const roundingMm = 1e-6;

/** What is asked of a side of a shadow where it lies: what lies on the bed, and what only keeps others away. */
type Side = 0 | 1;

/** Is a length no longer than the room for it, but for rounding? */
export const fitsIn = (mm: number, roomMm: number): boolean => mm <= roomMm * (1 + roundingShare) + roundingMm;

/**
 * The cells of a bed, and what of it is taken. Places are found exactly, row by row, from stretches that may not overlap. A part
 * lies within the room by its true box; the gap around it may reach over the edge: nothing stands there to keep away from.
 */
export class BedCells {
  readonly nx: number;
  readonly ny: number;
  /** stretches that are taken, by row: first cell and the one behind the last, in order */
  private readonly taken: number[][];
  /** of each row the longest stretch that is free, and of all of them the cells that are */
  private readonly widest: Int32Array;
  free: number;
  private marks: Int32Array;

  /**
   * @param room x, y that may be used, mm; `keepOuts` in the same place
   * @param spareMm that the bed has beyond the room at each side: a brim may lie there
   */
  constructor(
    private readonly room: readonly [number, number],
    readonly cellMm: number,
    keepOuts: readonly KeepOut[] = [],
    private readonly spareMm = 0,
  ) {
    this.nx = Math.ceil(room[0] / cellMm - 1e-6);
    this.ny = Math.ceil(room[1] / cellMm - 1e-6);
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

  /**
   * From where to where a shadow may lie along a side, in cells; its brim on the bed too if there is any room for that. Null where
   * it has no room.
   */
  private range({ box, lead, hold }: Shadow, side: Side): [number, number] | null {
    const { cellMm, room } = this;
    const between = (before: number, after: number): [number, number] | null => {
      const lo = Math.ceil(before / cellMm - 1e-6) - lead[side];
      const left = room[side] * (1 + roundingShare) + roundingMm - box[side] - after;
      const hi = Math.floor(left / cellMm + 1e-6) - lead[side];
      return lo <= hi ? [lo, hi] : null;
    };
    const beyond = (k: number): number => Math.max(0, hold[k] - this.spareMm);
    return between(beyond(side), beyond(side + 2)) ?? between(0, 0);
  }

  /** First free x from `least` to `most` for a shadow whose lowest row is y; null where there is none. */
  private freeIn({ nx, ny, start, runs, longest }: Shadow, y: number, least: number, most: number): number | null {
    const { widest } = this;
    const over = Math.max(0, -least) + Math.max(0, most + nx - this.nx);
    for (let j = Math.max(0, -y); j < Math.min(ny, this.ny - y); j++)
      if (longest[j] - over > widest[y + j]) return null;
    const marks = this.marks.length > most - least + 1 ? this.marks : (this.marks = new Int32Array(most - least + 2));
    marks.fill(0, 0, most - least + 2);
    for (let j = Math.max(0, -y); j < Math.min(ny, this.ny - y); j++) {
      const row = this.taken[y + j];
      if (row.length === 0) continue;
      for (let r = start[j]; r < start[j + 1]; r++) {
        const [from, to] = [runs[2 * r], runs[2 * r + 1]];
        for (let k = 0; k < row.length; k += 2) {
          // the stretch overlaps while x + from < taken end and x + to > taken begin
          const a = Math.max(least, row[k] - to + 1);
          const b = Math.min(most, row[k + 1] - from - 1);
          if (a > b) continue;
          marks[a - least]++;
          marks[b + 1 - least]--;
        }
      }
    }
    let depth = 0;
    for (let x = least; x <= most; x++) {
      depth += marks[x - least];
      if (depth === 0) return x;
    }
    return null;
  }

  /** The best free place of a shadow; null where there is none. */
  find(shadow: Shadow, lean: Lean): Place | null {
    const across = this.range(shadow, 0);
    const deep = this.range(shadow, 1);
    if (!across || !deep) return null;
    let best: Place | null = null;
    for (let y = deep[0]; y <= deep[1]; y++) {
      const x = this.freeIn(shadow, y, ...across);
      if (x === null) continue;
      if (lean === 'front') return { x, y };
      if (!best || x < best.x) best = { x, y };
      if (best.x === across[0]) return best;
    }
    return best;
  }

  /** Is nothing there where a shadow lies? */
  isFree({ ny, start, runs }: Shadow, { x, y }: Place): boolean {
    for (let j = Math.max(0, -y); j < Math.min(ny, this.ny - y); j++) {
      const row = this.taken[y + j];
      for (let r = start[j]; r < start[j + 1]; r++)
        for (let k = 0; k < row.length; k += 2)
          if (row[k] < x + runs[2 * r + 1] && row[k + 1] > x + runs[2 * r]) return false;
    }
    return true;
  }

  /** @param place between cells what it reaches into is taken */
  put({ ny, start, runs }: Shadow, { x, y }: Place): void {
    for (let j = 0; j < ny; j++)
      for (let row = Math.max(0, Math.floor(y + j)); row < Math.min(this.ny, Math.ceil(y + j + 1)); row++)
        for (let r = start[j]; r < start[j + 1]; r++)
          this.take(row, Math.max(0, Math.floor(x + runs[2 * r])), Math.min(this.nx, Math.ceil(x + runs[2 * r + 1])));
  }
}
