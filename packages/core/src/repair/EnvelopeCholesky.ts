/**
 * Cholesky factors of a sparse symmetric positive definite matrix, stored row by row from the first entry of each row
 * to its diagonal (George and Liu 1981), its rows put into the order of reverse Cuthill and McKee (1969) so that the
 * rows stay short. Small matrices of patches factor in milliseconds and solve exactly, however ill conditioned.
 */
export class EnvelopeCholesky {
  /** place of each unknown in the order of elimination */
  private readonly place: Int32Array;
  private readonly first: Int32Array;
  private readonly start: Float64Array;
  private readonly values: Float64Array;
  /** multiplications that one factorisation takes, about */
  readonly cost: number;

  /**
   * @param size number of unknowns
   * @param rows groups of unknowns that meet in the matrix: all pairs within a group may be non-zero
   */
  constructor(
    readonly size: number,
    rows: (visit: (group: ArrayLike<number>, length: number) => void) => void,
  ) {
    const beside: Set<number>[] = Array.from({ length: size }, () => new Set<number>());
    rows((group, length) => {
      for (let i = 0; i < length; i++)
        for (let j = 0; j < i; j++) {
          beside[group[i]].add(group[j]);
          beside[group[j]].add(group[i]);
        }
    });
    this.place = reverseCuthillMcKee(beside);
    this.first = Int32Array.from({ length: size }, (_, i) => i);
    for (let v = 0; v < size; v++)
      for (const u of beside[v]) {
        const i = Math.max(this.place[v], this.place[u]);
        this.first[i] = Math.min(this.first[i], this.place[v], this.place[u]);
      }
    this.start = new Float64Array(size + 1);
    let cost = 0;
    for (let i = 0; i < size; i++) {
      const width = i - this.first[i] + 1;
      this.start[i + 1] = this.start[i] + width;
      cost += (width * width) / 2;
    }
    this.cost = cost;
    this.values = new Float64Array(this.start[size]);
  }

  clear(): void {
    this.values.fill(0);
  }

  /** Adds to the entry of unknowns u and v, and so to that of v and u. */
  add(u: number, v: number, value: number): void {
    const i = this.place[u];
    const j = this.place[v];
    if (j > i) this.values[this.start[j] + i - this.first[j]] += value;
    else this.values[this.start[i] + j - this.first[i]] += value;
  }

  /** Replaces the matrix by its factor. False if it is not positive definite. */
  factor(): boolean {
    const { first, start, values, size } = this;
    /** where the row of an unknown would begin if all of it were kept */
    const rows = Int32Array.from(first, (f, i) => start[i] - f);
    for (let i = 0; i < size; i++) {
      const row = rows[i];
      const from = first[i];
      let j = from;
      // Four at a time: each sum waits for its own last step, and the four do not wait for one another.
      for (; j + 3 < i; j += 4) {
        const [r0, r1, r2, r3] = [rows[j], rows[j + 1], rows[j + 2], rows[j + 3]];
        const [f0, f1, f2, f3] = [first[j], first[j + 1], first[j + 2], first[j + 3]];
        const together = Math.min(j, Math.max(from, f0, f1, f2, f3));
        let s0 = lessProducts(values, values[row + j], row, r0, Math.max(from, f0), together);
        let s1 = lessProducts(values, values[row + j + 1], row, r1, Math.max(from, f1), together);
        let s2 = lessProducts(values, values[row + j + 2], row, r2, Math.max(from, f2), together);
        let s3 = lessProducts(values, values[row + j + 3], row, r3, Math.max(from, f3), together);
        for (let k = together; k < j; k++) {
          const v = values[row + k];
          s0 -= v * values[r0 + k];
          s1 -= v * values[r1 + k];
          s2 -= v * values[r2 + k];
          s3 -= v * values[r3 + k];
        }
        // and what each of them owes to those before it
        s0 = values[row + j] = s0 / values[r0 + j];
        if (f1 <= j) s1 -= s0 * values[r1 + j];
        s1 = values[row + j + 1] = s1 / values[r1 + j + 1];
        if (f2 <= j) s2 -= s0 * values[r2 + j];
        if (f2 <= j + 1) s2 -= s1 * values[r2 + j + 1];
        s2 = values[row + j + 2] = s2 / values[r2 + j + 2];
        if (f3 <= j) s3 -= s0 * values[r3 + j];
        if (f3 <= j + 1) s3 -= s1 * values[r3 + j + 1];
        if (f3 <= j + 2) s3 -= s2 * values[r3 + j + 2];
        values[row + j + 3] = s3 / values[r3 + j + 3];
      }
      for (; j < i; j++) {
        const sum = lessProducts(values, values[row + j], row, rows[j], Math.max(from, first[j]), j);
        values[row + j] = sum / values[rows[j] + j];
      }
      let pivot = values[row + i];
      const before = pivot;
      for (let k = first[i]; k < i; k++) pivot -= values[row + k] * values[row + k];
      if (!(pivot > 1e-14 * before)) return false;
      values[row + i] = Math.sqrt(pivot);
    }
    return true;
  }

  /** Solves in place, after `factor`. */
  solve(b: Float64Array): void {
    const { first, start, values, size, place } = this;
    const x = new Float64Array(size);
    for (let v = 0; v < size; v++) x[place[v]] = b[v];
    for (let i = 0; i < size; i++) {
      const row = start[i] - first[i];
      let sum = x[i];
      for (let k = first[i]; k < i; k++) sum -= values[row + k] * x[k];
      x[i] = sum / values[row + i];
    }
    for (let i = size - 1; i >= 0; i--) {
      const row = start[i] - first[i];
      x[i] /= values[row + i];
      for (let k = first[i]; k < i; k++) x[k] -= values[row + k] * x[i];
    }
    for (let v = 0; v < size; v++) b[v] = x[place[v]];
  }
}

/** A sum less the products of two rows, from one column to before another. */
function lessProducts(values: Float64Array, sum: number, a: number, b: number, from: number, to: number): number {
  for (let k = from; k < to; k++) sum -= values[a + k] * values[b + k];
  return sum;
}

/** Place of each vertex of a graph in an order that keeps neighbours near. */
function reverseCuthillMcKee(beside: Set<number>[]): Int32Array {
  const n = beside.length;
  const place = new Int32Array(n).fill(-1);
  const level = new Int32Array(n);
  let placed = 0;
  const walk = (from: number, visit: (v: number) => void): number => {
    level.fill(-1);
    level[from] = 0;
    const queue = [from];
    for (let head = 0; head < queue.length; head++) {
      const v = queue[head];
      visit(v);
      const next = [...beside[v]].filter((u) => level[u] < 0);
      next.sort((a, b) => beside[a].size - beside[b].size || a - b);
      for (const u of next) {
        level[u] = level[v] + 1;
        queue.push(u);
      }
    }
    return queue[queue.length - 1];
  };
  for (let v = 0; v < n; v++) {
    if (place[v] >= 0) continue;
    // the far end of a walk is a good place to begin (Gibbs, Poole and Stockmeyer 1976, shortened)
    const end = walk(
      walk(v, () => undefined),
      () => undefined,
    );
    walk(end, (u) => {
      place[u] = n - 1 - placed++;
    });
  }
  return place;
}
