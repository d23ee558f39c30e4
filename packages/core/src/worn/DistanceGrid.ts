import { boundsOf, type TriMesh } from '../mesh/TriMesh.ts';

/** Cells along the longest side of the mesh, and beyond it on every side. */
const cellsAlong = 24;
const cellsBeyond = 5;

/**
 * A distance that is asked for at many places, measured at the corners of a grid when they are first needed and blended
 * between them: right to a fraction of a cell, a twenty-fourth of the mesh. Beyond the grid the way to it is added.
 */
export class DistanceGrid {
  private readonly values: Float32Array;
  private readonly origin: number[];
  private readonly cell: number;
  private readonly nodes: number[];

  /** @param measure the distance at a place, mm, of either sign */
  constructor(
    mesh: TriMesh,
    private readonly measure: (x: number, y: number, z: number) => number,
  ) {
    const { min, max } = boundsOf(mesh);
    const size = [0, 1, 2].map((k) => max[k] - min[k]);
    this.cell = Math.max(...size, 1e-6) / cellsAlong;
    this.origin = min.map((lo) => lo - cellsBeyond * this.cell);
    this.nodes = size.map((s) => Math.ceil(s / this.cell) + 2 * cellsBeyond + 1);
    this.values = new Float32Array(this.nodes[0] * this.nodes[1] * this.nodes[2]).fill(NaN);
  }

  private node(i: number, j: number, k: number): number {
    const at = i + this.nodes[0] * (j + this.nodes[1] * k);
    let value = this.values[at];
    if (Number.isNaN(value)) {
      const { origin, cell } = this;
      value = this.measure(origin[0] + i * cell, origin[1] + j * cell, origin[2] + k * cell);
      this.values[at] = value;
    }
    return value;
  }

  /** Blended between the four corners of a cell at a height: from (i, j) a share `a` along x and `b` along y. */
  private plane(i: number, j: number, k: number, a: number, b: number): number {
    const near = (1 - a) * this.node(i, j, k) + a * this.node(i + 1, j, k);
    const far = (1 - a) * this.node(i, j + 1, k) + a * this.node(i + 1, j + 1, k);
    return (1 - b) * near + b * far;
  }

  private holds(k: number, c: number): boolean {
    return c >= this.origin[k] && c <= this.origin[k] + (this.nodes[k] - 1) * this.cell;
  }

  /**
   * The distance is this at least, where it changes by no more than a place moves and is that to the mesh itself: blended
   * from corners that lie half a diagonal of a cell away at most, on a mean of squares.
   */
  least(x: number, y: number, z: number): number {
    const { cell } = this;
    const isWithin = this.holds(0, x) && this.holds(1, y) && this.holds(2, z);
    return isWithin ? this.at(x, y, z) - Math.sqrt(3 / 4) * cell : cellsBeyond * cell;
  }

  at(x: number, y: number, z: number): number {
    const { origin, cell, nodes } = this;
    const u = (x - origin[0]) / cell;
    const v = (y - origin[1]) / cell;
    const w = (z - origin[2]) / cell;
    // the last cell is reached with a share of 1
    const cu = Math.min(Math.max(u, 0), nodes[0] - 1);
    const cv = Math.min(Math.max(v, 0), nodes[1] - 1);
    const cw = Math.min(Math.max(w, 0), nodes[2] - 1);
    const i = Math.min(Math.floor(cu), nodes[0] - 2);
    const j = Math.min(Math.floor(cv), nodes[1] - 2);
    const k = Math.min(Math.floor(cw), nodes[2] - 2);
    const a = cu - i;
    const b = cv - j;
    const c = cw - k;
    const low = this.plane(i, j, k, a, b);
    const high = this.plane(i, j, k + 1, a, b);
    const beyond = cell * Math.sqrt((u - cu) ** 2 + (v - cv) ** 2 + (w - cw) ** 2);
    return (1 - c) * low + c * high + beyond;
  }
}
