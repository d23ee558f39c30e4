import { treeOf, type Bvh } from './Bvh.ts';
import { oncePerMesh } from './oncePerMesh.ts';
import { triangleCount } from './TriMesh.ts';

/**
 * Generalised winding number of a triangle mesh, closed or not (Jacobson et al. 2013), by a tree whose far nodes
 * act as one dipole each (Barill et al. 2018, first order; a node is far at `beta` times its radius).
 */
export class WindingTree {
  /** per node: area-weighted centre (3), summed area vector (3), radius (1) */
  private readonly far: Float32Array;
  private readonly stack = new Uint32Array(256);

  constructor(
    readonly tree: Bvh,
    private readonly beta = 3,
  ) {
    const { positions: p, triangles } = tree.mesh;
    this.far = new Float32Array(7 * Math.max(1, tree.nodeCount));
    const sums = new Float64Array(7);
    const total = new Float64Array(7 * Math.max(1, tree.nodeCount));
    for (let node = tree.nodeCount - 1; node >= 0; node--) {
      sums.fill(0);
      if (tree.count[node] > 0) {
        for (let i = tree.offset[node]; i < tree.offset[node] + tree.count[node]; i++) {
          const t = tree.order[i];
          const a = 3 * triangles[3 * t];
          const b = 3 * triangles[3 * t + 1];
          const c = 3 * triangles[3 * t + 2];
          const ux = p[b] - p[a];
          const uy = p[b + 1] - p[a + 1];
          const uz = p[b + 2] - p[a + 2];
          const vx = p[c] - p[a];
          const vy = p[c + 1] - p[a + 1];
          const vz = p[c + 2] - p[a + 2];
          const nx = (uy * vz - uz * vy) / 2;
          const ny = (uz * vx - ux * vz) / 2;
          const nz = (ux * vy - uy * vx) / 2;
          const area = Math.hypot(nx, ny, nz);
          sums[0] += (area * (p[a] + p[b] + p[c])) / 3;
          sums[1] += (area * (p[a + 1] + p[b + 1] + p[c + 1])) / 3;
          sums[2] += (area * (p[a + 2] + p[b + 2] + p[c + 2])) / 3;
          sums[3] += nx;
          sums[4] += ny;
          sums[5] += nz;
          sums[6] += area;
        }
      } else for (let k = 0; k < 7; k++) sums[k] = total[7 * (node + 1) + k] + total[7 * tree.offset[node] + k];
      total.set(sums, 7 * node);
      const box = tree.box.subarray(6 * node, 6 * node + 6);
      for (let k = 0; k < 3; k++) {
        this.far[7 * node + k] = sums[6] > 0 ? sums[k] / sums[6] : (box[k] + box[k + 3]) / 2;
        this.far[7 * node + 3 + k] = sums[3 + k];
      }
      let r = 0;
      for (let k = 0; k < 3; k++)
        r += Math.max(box[k + 3] - this.far[7 * node + k], this.far[7 * node + k] - box[k]) ** 2;
      this.far[7 * node + 6] = Math.sqrt(r);
    }
  }

  /**
   * About 1 inside, 0 outside; fractions near holes. Good to about 0.02.
   *
   * @param except a triangle to leave out: on it, the rest alone give the mean of its two sides
   */
  at(x: number, y: number, z: number, except = -1): number {
    const { tree, far, stack } = this;
    if (triangleCount(tree.mesh) === 0 || tree.nodeCount === 0) return 0;
    let sum = 0;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      const o = 7 * node;
      const dx = far[o] - x;
      const dy = far[o + 1] - y;
      const dz = far[o + 2] - z;
      const d2 = dx * dx + dy * dy + dz * dz;
      const limit = this.beta * far[o + 6];
      if (d2 > limit * limit) {
        sum += (dx * far[o + 3] + dy * far[o + 4] + dz * far[o + 5]) / (d2 * Math.sqrt(d2));
        continue;
      }
      const size = tree.count[node];
      if (size === 0) {
        stack[top++] = tree.offset[node];
        stack[top++] = node + 1;
      } else
        for (let i = tree.offset[node]; i < tree.offset[node] + size; i++)
          if (tree.order[i] !== except) {
            this.solidAngle(tree.order[i], x, y, z);
            sum += angle[0];
          }
    }
    return sum / (4 * Math.PI);
  }

  /** Signed solid angle of a triangle (Van Oosterom and Strackee 1983), put into `angle`: given back, it would go by the heap. */
  private solidAngle(t: number, x: number, y: number, z: number): void {
    const { positions: p, triangles } = this.tree.mesh;
    const ia = 3 * triangles[3 * t];
    const ib = 3 * triangles[3 * t + 1];
    const ic = 3 * triangles[3 * t + 2];
    const ax = p[ia] - x;
    const ay = p[ia + 1] - y;
    const az = p[ia + 2] - z;
    const bx = p[ib] - x;
    const by = p[ib + 1] - y;
    const bz = p[ib + 2] - z;
    const cx = p[ic] - x;
    const cy = p[ic + 1] - y;
    const cz = p[ic + 2] - z;
    const a = Math.sqrt(ax * ax + ay * ay + az * az);
    const b = Math.sqrt(bx * bx + by * by + bz * bz);
    const c = Math.sqrt(cx * cx + cy * cy + cz * cz);
    const det = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    const den =
      a * b * c +
      (ax * bx + ay * by + az * bz) * c +
      (bx * cx + by * cy + bz * cz) * a +
      (cx * ax + cy * ay + cz * az) * b;
    angle[0] = 2 * Math.atan2(det, den);
  }
}

const angle = new Float64Array(1);

/** The winding number of a mesh, its tree built once. */
export const windingOf = oncePerMesh((mesh) => new WindingTree(treeOf(mesh)));
