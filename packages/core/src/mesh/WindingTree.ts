import { treeOf, type Bvh } from './Bvh.ts';
import { oncePerMesh } from './oncePerMesh.ts';

/** Numbers a node: see `far`. */
const width = 23;

/**
 * Generalised winding number of a triangle mesh, closed or not (Jacobson et al. 2013), by a tree whose far nodes act by the
 * first three terms of their Taylor series (Barill et al. 2018; a node is far at `beta` times its radius). The second term
 * without the third would be worse than the first alone: on skin that bends the two nearly cancel.
 */
export class WindingTree {
  /**
   * Per node, forms in the direction r it is seen in, x the way from the area-weighted centre to its triangles and n their
   * area vectors: that centre (3); sum of n.r (3); of (x.r)(n.r), by xx, yy, zz, xy, xz, yz (6); of (x.r)2 (n.r), by xxx,
   * yyy, zzz, xxy, xxz, xyy, yyz, xzz, yzz, xyz (10); the squared distance from which on it is far (1). Lengths are in sizes of
   * the whole: fourth powers of millimetres could be too large or too small for a float.
   */
  private readonly far: Float32Array;
  private readonly stack = new Uint32Array(256);
  /** sizes of the whole a mm */
  private readonly unit: number;

  constructor(
    readonly tree: Bvh,
    beta = 1.5,
  ) {
    const { positions: p, triangles } = tree.mesh;
    const nodes = Math.max(1, tree.nodeCount);
    const far = new Float32Array(width * nodes);
    this.far = far;
    const areas = new Float64Array(nodes);
    const size = Math.max(...[0, 1, 2].map((k) => tree.box[k + 3] - tree.box[k]));
    const unit = size > 0 ? 1 / size : 1;
    this.unit = unit;
    for (let node = tree.nodeCount - 1; node >= 0; node--) {
      const o = width * node;
      const held = tree.count[node];
      const first = tree.offset[node];
      const box = 6 * node;
      centre.fill(0);
      let area = 0;
      if (held > 0)
        for (let i = first; i < first + held; i++) {
          const t = 3 * tree.order[i];
          const own = areaVector(p, 3 * triangles[t], 3 * triangles[t + 1], 3 * triangles[t + 2], unit);
          for (let k = 0; k < 3; k++)
            centre[k] +=
              (own * unit * (p[3 * triangles[t] + k] + p[3 * triangles[t + 1] + k] + p[3 * triangles[t + 2] + k])) / 3;
          area += own;
        }
      else
        for (const child of [node + 1, first]) {
          for (let k = 0; k < 3; k++) centre[k] += areas[child] * far[width * child + k];
          area += areas[child];
        }
      areas[node] = area;
      let reach = 0;
      for (let k = 0; k < 3; k++) {
        const [lo, hi] = [unit * tree.box[box + k], unit * tree.box[box + k + 3]];
        // what has no area stands in the middle of its box
        const c = (far[o + k] = area > 0 ? centre[k] / area : (lo + hi) / 2);
        reach += Math.max(hi - c, c - lo) ** 2;
      }
      far[o + 22] = beta * beta * reach;
      if (held > 0) for (let i = first; i < first + held; i++) addTriangle(far, o, p, triangles, tree.order[i], unit);
      else {
        addNode(far, o, width * (node + 1));
        addNode(far, o, width * first);
      }
    }
  }

  /**
   * About 1 inside, 0 outside; fractions near holes. Good to about 0.004, and to 0.02 at worst (measured).
   *
   * Triangles near by count by their solid angles (Van Oosterom and Strackee 1983). Half of each is the angle of a complex
   * number; they are multiplied, so that the angle of many is taken once, as long as their product stays in the right half
   * of the plane and no turn is lost.
   *
   * @param except a triangle to leave out: on it, the rest alone give the mean of its two sides
   */
  at(x: number, y: number, z: number, except = -1): number {
    const { tree, far, stack } = this;
    if (tree.nodeCount === 0) return 0;
    const { count, offset, order } = tree;
    const sx = this.unit * x;
    const sy = this.unit * y;
    const sz = this.unit * z;
    const { positions: p, triangles } = tree.mesh;
    let sum = 0;
    let half = 0;
    let re = 1;
    let im = 0;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      const o = width * node;
      const dx = far[o] - sx;
      const dy = far[o + 1] - sy;
      const dz = far[o + 2] - sz;
      const d2 = dx * dx + dy * dy + dz * dz;
      if (d2 > far[o + 22]) {
        const xx = far[o + 6];
        const yy = far[o + 7];
        const zz = far[o + 8];
        const square =
          dx * (xx * dx + far[o + 9] * dy + far[o + 10] * dz) + dy * (yy * dy + far[o + 11] * dz) + zz * dz * dz;
        const xxx = far[o + 12];
        const yyy = far[o + 13];
        const zzz = far[o + 14];
        const xxy = far[o + 15];
        const xxz = far[o + 16];
        const xyy = far[o + 17];
        const yyz = far[o + 18];
        const xzz = far[o + 19];
        const yzz = far[o + 20];
        const cube =
          dx * (dx * (xxx * dx + xxy * dy + xxz * dz) + dy * (xyy * dy + far[o + 21] * dz) + xzz * dz * dz) +
          dy * (dy * (yyy * dy + yyz * dz) + yzz * dz * dz) +
          zzz * dz * dz * dz;
        const traces = dx * (xxx + (xyy + xzz) / 3) + dy * (yyy + (xxy + yzz) / 3) + dz * (zzz + (xxz + yyz) / 3);
        const inverse = 1 / d2;
        sum +=
          (dx * far[o + 3] +
            dy * far[o + 4] +
            dz * far[o + 5] +
            (xx + yy + zz) +
            inverse * (7.5 * inverse * cube - 3 * square - 4.5 * traces)) *
          inverse *
          Math.sqrt(inverse);
        continue;
      }
      const size = count[node];
      if (size === 0) {
        stack[top++] = offset[node];
        stack[top++] = node + 1;
        continue;
      }
      for (let i = offset[node]; i < offset[node] + size; i++) {
        const t = order[i];
        if (t === except) continue;
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
        if (!(den > 0)) {
          half += Math.atan2(det, den);
          continue;
        }
        const scale = 1 / (Math.abs(den) + Math.abs(det));
        const r = (re * den - im * det) * scale;
        im = (re * det + im * den) * scale;
        re = r;
        if (re <= 0 || (re < 1e-100 && Math.abs(im) < 1e-100)) {
          half += Math.atan2(im, re);
          re = 1;
          im = 0;
        }
      }
    }
    half += Math.atan2(im, re);
    return (sum + 2 * half) / (4 * Math.PI);
  }
}

const vector = new Float64Array(3);
const centre = new Float64Array(3);

/** Area of a triangle, its lengths times `unit`; its area vector is put into `vector`. */
function areaVector(p: Float32Array, a: number, b: number, c: number, unit: number): number {
  const ux = unit * (p[b] - p[a]);
  const uy = unit * (p[b + 1] - p[a + 1]);
  const uz = unit * (p[b + 2] - p[a + 2]);
  const vx = unit * (p[c] - p[a]);
  const vy = unit * (p[c + 1] - p[a + 1]);
  const vz = unit * (p[c + 2] - p[a + 2]);
  vector[0] = (uy * vz - uz * vy) / 2;
  vector[1] = (uz * vx - ux * vz) / 2;
  vector[2] = (ux * vy - uy * vx) / 2;
  return Math.sqrt(vector[0] * vector[0] + vector[1] * vector[1] + vector[2] * vector[2]);
}

/** Adds a triangle to the forms of a node. */
function addTriangle(
  far: Float32Array,
  o: number,
  p: Float32Array,
  triangles: Uint32Array,
  t: number,
  unit: number,
): void {
  const a = 3 * triangles[3 * t];
  const b = 3 * triangles[3 * t + 1];
  const c = 3 * triangles[3 * t + 2];
  areaVector(p, a, b, c, unit);
  let [x, y, z, xx, yy, zz, xy, xz, yz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const v = k === 0 ? a : k === 1 ? b : c;
    const ux = unit * p[v] - far[o];
    const uy = unit * p[v + 1] - far[o + 1];
    const uz = unit * p[v + 2] - far[o + 2];
    x += ux / 3;
    y += uy / 3;
    z += uz / 3;
    xx += (ux * ux) / 12;
    yy += (uy * uy) / 12;
    zz += (uz * uz) / 12;
    xy += (ux * uy) / 12;
    xz += (ux * uz) / 12;
    yz += (uy * uz) / 12;
  }
  // mean of (x.r)2 over a triangle: a twelfth for each corner, and nine for the middle
  xx += 0.75 * x * x;
  yy += 0.75 * y * y;
  zz += 0.75 * z * z;
  xy += 0.75 * x * y;
  xz += 0.75 * x * z;
  yz += 0.75 * y * z;
  const [nx, ny, nz] = vector;
  far[o + 3] += nx;
  far[o + 4] += ny;
  far[o + 5] += nz;
  addSquare(far, o, x, y, z, nx, ny, nz);
  addCube(far, o, nx, ny, nz, xx, yy, zz, 2 * xy, 2 * xz, 2 * yz);
}

/** Adds the forms of a node to those of its parent, whose centre is another. */
function addNode(far: Float32Array, o: number, child: number): void {
  const x = far[child] - far[o];
  const y = far[child + 1] - far[o + 1];
  const z = far[child + 2] - far[o + 2];
  for (let k = 3; k < 22; k++) far[o + k] += far[child + k];
  const nx = far[child + 3];
  const ny = far[child + 4];
  const nz = far[child + 5];
  addSquare(far, o, x, y, z, nx, ny, nz);
  addCube(
    far,
    o,
    2 * x,
    2 * y,
    2 * z,
    far[child + 6],
    far[child + 7],
    far[child + 8],
    far[child + 9],
    far[child + 10],
    far[child + 11],
  );
  addCube(far, o, nx, ny, nz, x * x, y * y, z * z, 2 * x * y, 2 * x * z, 2 * y * z);
}

/** Adds (x.r)(n.r). */
function addSquare(
  far: Float32Array,
  o: number,
  x: number,
  y: number,
  z: number,
  nx: number,
  ny: number,
  nz: number,
): void {
  far[o + 6] += x * nx;
  far[o + 7] += y * ny;
  far[o + 8] += z * nz;
  far[o + 9] += x * ny + y * nx;
  far[o + 10] += x * nz + z * nx;
  far[o + 11] += y * nz + z * ny;
}

/** Adds the product of a linear form and one of squares. */
function addCube(
  far: Float32Array,
  o: number,
  x: number,
  y: number,
  z: number,
  xx: number,
  yy: number,
  zz: number,
  xy: number,
  xz: number,
  yz: number,
): void {
  far[o + 12] += x * xx;
  far[o + 13] += y * yy;
  far[o + 14] += z * zz;
  far[o + 15] += x * xy + y * xx;
  far[o + 16] += x * xz + z * xx;
  far[o + 17] += x * yy + y * xy;
  far[o + 18] += y * yz + z * yy;
  far[o + 19] += x * zz + z * xz;
  far[o + 20] += y * zz + z * yz;
  far[o + 21] += x * yz + y * xz + z * xy;
}

/** The winding number of a mesh, its tree built once. */
export const windingOf = oncePerMesh((mesh) => new WindingTree(treeOf(mesh)));
