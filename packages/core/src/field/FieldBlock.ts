/** A body whose skin is moved: the level lies where the depth under the surface is `depth` (negative: outside it). */
export interface Field {
  /** Unsigned distance to the surface, mm, or `limit` where nothing lies nearer. */
  distance(x: number, y: number, z: number, limit: number): number;
  inside(x: number, y: number, z: number): boolean;
  depth: number;
  /**
   * Does inside end nowhere but at the surface? Then a point is on the side of its neighbour unless the surface is
   * between, and `inside` is asked only there; otherwise everywhere, so it had better be quick.
   */
  closed: boolean;
}

/** Cells of a block along a side, and grid points. */
export const block = 8;
export const side = block + 1;

const unknown = 2;

/** Values of a field at the grid points of one block after another: positive where the level is inside. */
export class FieldBlock {
  /** by x, then y, then z; exact near the level, of the right sign and no larger than true elsewhere */
  readonly values = new Float64Array(side * side * side);
  /** at least so far from the surface, at most so far */
  private readonly away = new Float64Array(this.values.length);
  private readonly within = new Uint8Array(this.values.length);
  private readonly half: number;
  private readonly reach: number;
  /** an edge of a tetrahedron is at most sqrt(3) cells long, so only values below that are ever interpolated closely */
  private readonly needed: number;

  constructor(
    private readonly field: Field,
    private readonly cell: number,
  ) {
    this.half = (block * cell * Math.sqrt(3)) / 2;
    this.reach = Math.abs(field.depth) + 2 * this.half + 4 * cell;
    this.needed = 1.75 * cell;
  }

  /** 1 where the whole block from (x, y, z) on is inside the level, -1 outside, 0 where the level may pass through it. */
  sideOf(x: number, y: number, z: number): number {
    const { field, half } = this;
    const r = (block * this.cell) / 2;
    const d = field.distance(x + r, y + r, z + r, Math.abs(field.depth) + 2 * half);
    const inside = field.inside(x + r, y + r, z + r);
    const v = (inside ? d : -d) - field.depth;
    if (Math.abs(v) <= half) return 0;
    // inside may end in the middle of a hole, away from any surface
    return field.closed || this.isAll(inside, x, y, z) ? Math.sign(v) : 0;
  }

  private isAll(inside: boolean, x: number, y: number, z: number): boolean {
    const { cell, field } = this;
    for (let k = 0; k < side; k++)
      for (let j = 0; j < side; j++)
        for (let h = 0; h < side; h++)
          if (field.inside(x + h * cell, y + j * cell, z + k * cell) !== inside) return false;
    return true;
  }

  /** Works out the values of the block whose lowest corner is (x, y, z). */
  fill(x: number, y: number, z: number): void {
    const { cell } = this;
    let i = 0;
    for (let k = 0; k < side; k++)
      for (let j = 0; j < side; j++)
        for (let h = 0; h < side; h++, i++) {
          const near = h > 0 ? i - 1 : j > 0 ? i - side : k > 0 ? i - side * side : -1;
          const px = x + h * cell;
          const py = y + j * cell;
          const pz = z + k * cell;
          if (near < 0 || !this.carry(i, near, px, py, pz)) this.measure(i, near, px, py, pz);
        }
  }

  /** Takes a value over from a neighbour so far from the level that a bound of the right sign will do. */
  private carry(i: number, near: number, x: number, y: number, z: number): boolean {
    const { values, away, within, cell, field } = this;
    const { depth, closed } = field;
    const sure = Math.abs(values[near]) - cell;
    if (!(sure > this.needed)) return false;
    const value = Math.sign(values[near]) * sure;
    if (closed) {
      within[i] = value > 0 === depth >= 0 ? (value > 0 ? 1 : 0) : unknown;
      if (depth === 0) within[i] = value > 0 ? 1 : 0;
    } else {
      if (field.inside(x, y, z) !== (within[near] === 1)) return false;
      within[i] = within[near];
    }
    values[i] = value;
    away[i] = away[near] + cell;
    return true;
  }

  private measure(i: number, near: number, x: number, y: number, z: number): void {
    const { values, away, within, cell, field } = this;
    // a neighbour bounds the distance, and gives the side where the surface is farther than it
    const bound = near >= 0 ? away[near] + cell * 1.001 : Infinity;
    const d = field.distance(x, y, z, Math.min(this.reach, bound));
    away[i] = d;
    if (field.closed && near >= 0 && d > cell && within[near] !== unknown) within[i] = within[near];
    else within[i] = field.inside(x, y, z) ? 1 : 0;
    values[i] = (within[i] ? d : -d) - field.depth;
  }
}
