/** Disjoint sets over 0..n-1 with path halving; the smaller index stays the root, so labels are deterministic. */
export class UnionFind {
  readonly parent: Uint32Array;

  constructor(n: number) {
    this.parent = new Uint32Array(n);
    for (let i = 0; i < n; i++) this.parent[i] = i;
  }

  find(i: number): number {
    const { parent } = this;
    while (parent[i] !== i) {
      parent[i] = parent[parent[i]];
      i = parent[i];
    }
    return i;
  }

  union(a: number, b: number): void {
    const ra = this.find(a);
    const rb = this.find(b);
    if (ra < rb) this.parent[rb] = ra;
    else if (rb < ra) this.parent[ra] = rb;
  }

  /** Labels 0..count-1 in order of first appearance. */
  labels(): { label: Uint32Array; count: number } {
    const n = this.parent.length;
    const label = new Uint32Array(n);
    let count = 0;
    for (let i = 0; i < n; i++) {
      const root = this.find(i);
      label[i] = root === i ? count++ : label[root];
    }
    return { label, count };
  }
}
