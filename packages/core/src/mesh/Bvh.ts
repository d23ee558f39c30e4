import { oncePerMesh } from './oncePerMesh.ts';
import { triangleCount, type TriMesh, type Vec3 } from './TriMesh.ts';

/*
 * Bounding-volume tree over the triangles of a mesh.
 *
 * `box`    6 floats a node: min x, y, z, max x, y, z
 * `count`  triangles in a leaf, 0 in an inner node
 * `offset` leaf: first entry in `order`; inner node: index of the right child (the left child is node + 1)
 * `order`  triangle indices, leaf after leaf
 *
 * Built top-down with the surface-area heuristic over 12 bins a split (Wald 2007); above `sortedFrom` triangles by
 * splitting the order along a Morton curve (Lauterbach et al. 2009) whose cells are kept near to cubes by giving longer
 * sides more bits (as Vinkler, Bittner and Havran 2017 do). That is seven times as fast to build; on scans, whose triangles
 * are all much alike, a ray passes a seventh more nodes.
 */
const leafSize = 4;
const bins = 12;
const sortedFrom = 2_000;

export interface NearestHit {
  /** mm, Infinity when nothing lies within the limit */
  distance: number;
  triangle: number;
  point: [number, number, number];
}

export class Bvh {
  readonly box: Float32Array;
  readonly count: Uint16Array;
  readonly offset: Uint32Array;
  readonly order: Uint32Array;
  private nodes = 0;
  private readonly stack = new Uint32Array(256);
  /** squared distance of each node on the stack */
  private readonly far = new Float64Array(256);

  constructor(
    readonly mesh: TriMesh,
    subset?: Uint32Array,
  ) {
    const total = triangleCount(mesh);
    const n = subset ? subset.length : total;
    this.order = subset ? subset.slice() : new Uint32Array(n);
    if (!subset) for (let i = 0; i < n; i++) this.order[i] = i;
    const capacity = Math.max(1, 2 * n);
    this.box = new Float32Array(6 * capacity);
    this.count = new Uint16Array(capacity);
    this.offset = new Uint32Array(capacity);
    if (n >= sortedFrom) this.buildSorted();
    else if (n > 0) this.build(total);
  }

  get nodeCount(): number {
    return this.nodes;
  }

  private build(total: number): void {
    const { positions: p, triangles: tri } = this.mesh;
    const bounds = new Float32Array(6 * total);
    const centre = new Float32Array(3 * total);
    const { order, box } = this;
    for (let i = 0; i < order.length; i++) {
      const t = order[i];
      const a = 3 * tri[3 * t];
      const b = 3 * tri[3 * t + 1];
      const c = 3 * tri[3 * t + 2];
      for (let k = 0; k < 3; k++) {
        const x = p[a + k];
        const y = p[b + k];
        const z = p[c + k];
        const lo = x < y ? (x < z ? x : z) : y < z ? y : z;
        const hi = x > y ? (x > z ? x : z) : y > z ? y : z;
        bounds[6 * t + k] = lo;
        bounds[6 * t + 3 + k] = hi;
        centre[3 * t + k] = (lo + hi) / 2;
      }
    }
    const binBox = new Float64Array(bins * 6);
    const binCount = new Uint32Array(bins);
    const rightArea = new Float64Array(bins);
    const work: number[] = [0, order.length, -1, 0];
    while (work.length > 0) {
      const depth = work.pop()!;
      const parent = work.pop()!;
      const to = work.pop()!;
      const from = work.pop()!;
      const node = this.nodes++;
      if (parent >= 0) this.offset[parent] = node;
      let x0 = Infinity;
      let y0 = Infinity;
      let z0 = Infinity;
      let x1 = -Infinity;
      let y1 = -Infinity;
      let z1 = -Infinity;
      const lo = [Infinity, Infinity, Infinity];
      const hi = [-Infinity, -Infinity, -Infinity];
      for (let i = from; i < to; i++) {
        const t = order[i];
        const o = 6 * t;
        if (bounds[o] < x0) x0 = bounds[o];
        if (bounds[o + 1] < y0) y0 = bounds[o + 1];
        if (bounds[o + 2] < z0) z0 = bounds[o + 2];
        if (bounds[o + 3] > x1) x1 = bounds[o + 3];
        if (bounds[o + 4] > y1) y1 = bounds[o + 4];
        if (bounds[o + 5] > z1) z1 = bounds[o + 5];
        for (let k = 0; k < 3; k++) {
          const c = centre[3 * t + k];
          if (c < lo[k]) lo[k] = c;
          if (c > hi[k]) hi[k] = c;
        }
      }
      box.set([x0, y0, z0, x1, y1, z1], 6 * node);
      const size = to - from;
      let axis = 0;
      for (let k = 1; k < 3; k++) if (hi[k] - lo[k] > hi[axis] - lo[axis]) axis = k;
      const extent = hi[axis] - lo[axis];
      if (size <= leafSize || (!(extent > 0) && size <= 65535)) {
        this.count[node] = size;
        this.offset[node] = from;
        continue;
      }
      let middle = from;
      // halving keeps the tree shallow enough for the stacks of those who walk it, whatever the triangles
      if (extent > 0 && depth < 60) {
        binCount.fill(0);
        for (let b = 0; b < bins; b++) {
          binBox.fill(Infinity, 6 * b, 6 * b + 3);
          binBox.fill(-Infinity, 6 * b + 3, 6 * b + 6);
        }
        const scale = (bins * (1 - 1e-6)) / extent;
        for (let i = from; i < to; i++) {
          const t = order[i];
          const b = Math.min(bins - 1, Math.floor((centre[3 * t + axis] - lo[axis]) * scale));
          binCount[b]++;
          for (let k = 0; k < 3; k++) {
            if (bounds[6 * t + k] < binBox[6 * b + k]) binBox[6 * b + k] = bounds[6 * t + k];
            if (bounds[6 * t + 3 + k] > binBox[6 * b + 3 + k]) binBox[6 * b + 3 + k] = bounds[6 * t + 3 + k];
          }
        }
        const acc = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
        const grow = (b: number) => {
          for (let k = 0; k < 3; k++) {
            acc[k] = Math.min(acc[k], binBox[6 * b + k]);
            acc[k + 3] = Math.max(acc[k + 3], binBox[6 * b + 3 + k]);
          }
          const dx = acc[3] - acc[0];
          const dy = acc[4] - acc[1];
          const dz = acc[5] - acc[2];
          return dx >= 0 ? dx * dy + dy * dz + dz * dx : 0;
        };
        for (let b = bins - 1; b > 0; b--) rightArea[b] = grow(b);
        acc.fill(Infinity, 0, 3);
        acc.fill(-Infinity, 3, 6);
        let best = Infinity;
        let split = -1;
        let left = 0;
        for (let b = 0; b < bins - 1; b++) {
          left += binCount[b];
          const cost = grow(b) * left + rightArea[b + 1] * (size - left);
          if (left > 0 && left < size && cost < best) {
            best = cost;
            split = b;
          }
        }
        let i = from;
        let j = to - 1;
        while (i <= j) {
          const t = order[i];
          const b = Math.min(bins - 1, Math.floor((centre[3 * t + axis] - lo[axis]) * scale));
          if (b <= split) i++;
          else {
            order[i] = order[j];
            order[j--] = t;
          }
        }
        middle = i;
      }
      if (middle <= from || middle >= to) middle = (from + to) >> 1;
      work.push(middle, to, node, depth + 1, from, middle, -1, depth + 1);
    }
  }

  private buildSorted(): void {
    const { positions: p, triangles: tri } = this.mesh;
    const { order, box, count, offset } = this;
    const n = order.length;
    const min = [Infinity, Infinity, Infinity];
    const max = [-Infinity, -Infinity, -Infinity];
    for (let i = 0; i < p.length; i += 3)
      for (let k = 0; k < 3; k++) {
        if (p[i + k] < min[k]) min[k] = p[i + k];
        if (p[i + k] > max[k]) max[k] = p[i + k];
      }
    // thirty halvings, always across the side that is longest by then, so that cells stay near to cubes
    const side = max.map((hi, k) => hi - min[k]);
    const halvings: number[][] = [[], [], []];
    for (let bit = 29; bit >= 0; bit--) {
      const k = side[0] >= side[1] && side[0] >= side[2] ? 0 : side[1] >= side[2] ? 1 : 2;
      halvings[k].unshift(bit);
      side[k] /= 2;
    }
    const scale = min.map((lo, k) => (max[k] > lo ? (2 ** halvings[k].length * (1 - 1e-6)) / (max[k] - lo) : 0));
    const spread = halvings.map(spreading);
    let codes = new Uint32Array(n);
    for (let i = 0; i < n; i++) {
      const a = 3 * tri[3 * order[i]];
      const b = 3 * tri[3 * order[i] + 1];
      const c = 3 * tri[3 * order[i] + 2];
      let code = 0;
      for (let k = 0; k < 3; k++) {
        const x = p[a + k];
        const y = p[b + k];
        const z = p[c + k];
        const lo = x < y ? (x < z ? x : z) : y < z ? y : z;
        const hi = x > y ? (x > z ? x : z) : y > z ? y : z;
        const cell = (((lo + hi) / 2 - min[k]) * scale[k]) | 0;
        const table = spread[k];
        code |= table[cell & 1023] | table[1024 + ((cell >>> 10) & 1023)] | table[2048 + (cell >>> 20)];
      }
      codes[i] = code;
    }
    // three passes of ten bits
    let from = order.slice();
    let to = new Uint32Array(n);
    let other = new Uint32Array(n);
    for (let shift = 0; shift < 30; shift += 10) {
      const at = new Uint32Array(1025);
      for (let i = 0; i < n; i++) at[((codes[i] >>> shift) & 1023) + 1]++;
      for (let i = 0; i < 1024; i++) at[i + 1] += at[i];
      for (let i = 0; i < n; i++) {
        const j = at[(codes[i] >>> shift) & 1023]++;
        to[j] = from[i];
        other[j] = codes[i];
      }
      [from, to] = [to, from];
      [codes, other] = [other, codes];
    }
    order.set(from);
    const work = new Uint32Array(3 * 4096);
    let top = 0;
    const none = 0xffffffff;
    work[top++] = 0;
    work[top++] = n;
    work[top++] = none;
    while (top > 0) {
      const parent = work[--top];
      const end = work[--top];
      const begin = work[--top];
      const node = this.nodes++;
      if (parent !== none) offset[parent] = node;
      if (end - begin <= leafSize) {
        count[node] = end - begin;
        offset[node] = begin;
        continue;
      }
      let middle = (begin + end) >> 1;
      const differs = codes[begin] ^ codes[end - 1];
      if (differs !== 0) {
        const bit = 31 - Math.clz32(differs);
        let lo = begin;
        let hi = end - 1;
        while (lo + 1 < hi) {
          const half = (lo + hi) >> 1;
          if ((codes[half] >>> bit) & 1) hi = half;
          else lo = half;
        }
        middle = hi;
      }
      work[top++] = middle;
      work[top++] = end;
      work[top++] = node;
      work[top++] = begin;
      work[top++] = middle;
      work[top++] = none;
    }
    // children come after their parents, so boxes are made from the last node up
    for (let node = this.nodes - 1; node >= 0; node--) {
      const o = 6 * node;
      if (count[node] > 0) {
        for (let k = 0; k < 3; k++) {
          let lo = Infinity;
          let hi = -Infinity;
          for (let i = offset[node]; i < offset[node] + count[node]; i++)
            for (let c = 0; c < 3; c++) {
              const x = p[3 * tri[3 * order[i] + c] + k];
              if (x < lo) lo = x;
              if (x > hi) hi = x;
            }
          box[o + k] = lo;
          box[o + 3 + k] = hi;
        }
        continue;
      }
      const l = o + 6;
      const r = 6 * offset[node];
      for (let k = 0; k < 3; k++) {
        box[o + k] = box[l + k] < box[r + k] ? box[l + k] : box[r + k];
        box[o + 3 + k] = box[l + 3 + k] > box[r + 3 + k] ? box[l + 3 + k] : box[r + 3 + k];
      }
    }
  }

  /**
   * Nearest point of the surface to (x, y, z).
   *
   * @param limit mm; nothing farther is looked at
   * @param hit reused result; `distance` is Infinity when nothing lies within the limit
   * @param guess a triangle that is likely to be near, such as the one found for the point before: saves looking far
   * @param rough the distance may be too large by this share, which spares looking at all that is about equally near
   */
  nearest(x: number, y: number, z: number, limit: number, hit: NearestHit, guess = -1, rough = 0): NearestHit {
    hit.distance = Infinity;
    hit.triangle = -1;
    if (this.nodes === 0) return hit;
    const { box, count, offset, order, stack, far } = this;
    let best = limit * limit;
    const give = (1 + rough) ** 2;
    if (guess >= 0) {
      this.toTriangle(guess, x, y, z);
      const d = closest[3];
      if (d <= best) {
        best = d;
        hit.triangle = guess;
        hit.point[0] = closest[0];
        hit.point[1] = closest[1];
        hit.point[2] = closest[2];
      }
    }
    let top = 0;
    let node = 0;
    search: for (;;) {
      const size = count[node];
      if (size === 0) {
        const left = node + 1;
        const right = offset[node];
        const l = 6 * left;
        const r = 6 * right;
        // squared distances of both boxes, written out
        let dx = x < box[l] ? box[l] - x : x > box[l + 3] ? x - box[l + 3] : 0;
        let dy = y < box[l + 1] ? box[l + 1] - y : y > box[l + 4] ? y - box[l + 4] : 0;
        let dz = z < box[l + 2] ? box[l + 2] - z : z > box[l + 5] ? z - box[l + 5] : 0;
        const toLeft = dx * dx + dy * dy + dz * dz;
        dx = x < box[r] ? box[r] - x : x > box[r + 3] ? x - box[r + 3] : 0;
        dy = y < box[r + 1] ? box[r + 1] - y : y > box[r + 4] ? y - box[r + 4] : 0;
        dz = z < box[r + 2] ? box[r + 2] - z : z > box[r + 5] ? z - box[r + 5] : 0;
        const toRight = dx * dx + dy * dy + dz * dz;
        const leftNearer = toLeft < toRight;
        const nearer = leftNearer ? toLeft : toRight;
        const farther = leftNearer ? toRight : toLeft;
        if (nearer * give <= best) {
          if (farther * give <= best) {
            stack[top] = leftNearer ? right : left;
            far[top++] = farther;
          }
          node = leftNearer ? left : right;
          continue;
        }
      } else
        for (let i = offset[node]; i < offset[node] + size; i++) {
          this.toTriangle(order[i], x, y, z);
          const d = closest[3];
          if (d <= best) {
            best = d;
            hit.triangle = order[i];
            hit.point[0] = closest[0];
            hit.point[1] = closest[1];
            hit.point[2] = closest[2];
          }
        }
      do {
        if (top === 0) break search;
        node = stack[--top];
      } while (far[top] * give > best);
    }
    if (hit.triangle >= 0) hit.distance = Math.sqrt(best);
    return hit;
  }

  /**
   * Does any of the surface lie within a distance of (x, y, z)?
   *
   * @param guess a triangle that is likely to
   */
  isWithin(x: number, y: number, z: number, distance: number, guess = -1): boolean {
    if (this.nodes === 0) return false;
    const { box, count, offset, order, stack } = this;
    const limit = distance * distance;
    if (guess >= 0) {
      this.toTriangle(guess, x, y, z);
      if (closest[3] <= limit) return true;
    }
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      if (boxDistanceSq(box, node, x, y, z) > limit) continue;
      const size = count[node];
      for (let i = offset[node]; i < offset[node] + size; i++) {
        this.toTriangle(order[i], x, y, z);
        if (closest[3] <= limit) return true;
      }
      if (size > 0) continue;
      const left = node + 1;
      const right = offset[node];
      // the nearer child is looked at first
      const leftNearer = boxDistanceSq(box, left, x, y, z) < boxDistanceSq(box, right, x, y, z);
      stack[top++] = leftNearer ? right : left;
      stack[top++] = leftNearer ? left : right;
    }
    return false;
  }

  /**
   * From a point to a triangle (Ericson, Real-Time Collision Detection, 5.1.5): fills `closest`. Nothing is given back: a number
   * that leaves a function goes by the heap.
   */
  private toTriangle(t: number, x: number, y: number, z: number): void {
    const { positions: p, triangles } = this.mesh;
    const ia = 3 * triangles[3 * t];
    const ib = 3 * triangles[3 * t + 1];
    const ic = 3 * triangles[3 * t + 2];
    const ax = p[ia];
    const ay = p[ia + 1];
    const az = p[ia + 2];
    const abx = p[ib] - ax;
    const aby = p[ib + 1] - ay;
    const abz = p[ib + 2] - az;
    const acx = p[ic] - ax;
    const acy = p[ic + 1] - ay;
    const acz = p[ic + 2] - az;
    const apx = x - ax;
    const apy = y - ay;
    const apz = z - az;
    const d1 = abx * apx + aby * apy + abz * apz;
    const d2 = acx * apx + acy * apy + acz * apz;
    let v = 0;
    let w = 0;
    if (!(d1 <= 0 && d2 <= 0)) {
      const bpx = x - p[ib];
      const bpy = y - p[ib + 1];
      const bpz = z - p[ib + 2];
      const d3 = abx * bpx + aby * bpy + abz * bpz;
      const d4 = acx * bpx + acy * bpy + acz * bpz;
      if (d3 >= 0 && d4 <= d3) v = 1;
      else {
        const vc = d1 * d4 - d3 * d2;
        if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 === d3 ? 0 : d1 / (d1 - d3);
        else {
          const cpx = x - p[ic];
          const cpy = y - p[ic + 1];
          const cpz = z - p[ic + 2];
          const d5 = abx * cpx + aby * cpy + abz * cpz;
          const d6 = acx * cpx + acy * cpy + acz * cpz;
          if (d6 >= 0 && d5 <= d6) w = 1;
          else {
            const vb = d5 * d2 - d1 * d6;
            if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 === d6 ? 0 : d2 / (d2 - d6);
            else {
              const va = d3 * d6 - d5 * d4;
              if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
                const span = d4 - d3 + (d5 - d6);
                w = span === 0 ? 0 : (d4 - d3) / span;
                v = 1 - w;
              } else {
                const sum = va + vb + vc;
                v = vb / sum;
                w = vc / sum;
              }
            }
          }
        }
      }
    }
    const qx = ax + abx * v + acx * w;
    const qy = ay + aby * v + acy * w;
    const qz = az + abz * v + acz * w;
    closest[0] = qx;
    closest[1] = qy;
    closest[2] = qz;
    closest[3] = (qx - x) * (qx - x) + (qy - y) * (qy - y) + (qz - z) * (qz - z);
  }

  /**
   * First triangle that a ray meets farther than `from`, whichever way it faces (Moller and Trumbore 1997).
   *
   * @param upTo what is met farther on is none, and costs nothing
   * @param anyWillDo whatever is found first, however far: what `isBlocked` asks
   * @returns the distance in units of `direction`'s length, or Infinity; `lastHit` then holds the triangle
   */
  firstHit(origin: Vec3, direction: Vec3, from: number, skip = -1, upTo = Infinity, anyWillDo = false): number {
    if (this.nodes === 0) return Infinity;
    const { box, count, offset, order, stack, far } = this;
    const ox = origin[0];
    const oy = origin[1];
    const oz = origin[2];
    const dx = direction[0];
    const dy = direction[1];
    const dz = direction[2];
    const ix = 1 / dx;
    const iy = 1 / dy;
    const iz = 1 / dz;
    // which of a box's six numbers the ray passes on the way in and on the way out
    const inX = ix < 0 ? 3 : 0;
    const inY = iy < 0 ? 4 : 1;
    const inZ = iz < 0 ? 5 : 2;
    const outX = 3 - inX;
    const outY = 5 - inY;
    const outZ = 7 - inZ;
    const { positions: p, triangles } = this.mesh;
    // As numbers: what comes as a param may be anything to the engine, which then keeps what it is mixed with on the heap, a
    // number for each box. A fifth of a ray's time went there.
    const near = +from;
    const most = +upTo;
    let best = most;
    let node = 0;
    let top = 0;
    for (;;) {
      const size = count[node];
      if (size === 0) {
        // Slabs of both children (Kay and Kajiya 1986), written out: most of the time of a ray goes here. A comparison with
        // NaN, of a ray within a side of a box, is false and leaves the slab out. A hair is added to the way out, since the
        // corners are rounded to single precision.
        const left = node + 1;
        const right = offset[node];
        const l = 6 * left;
        const r = 6 * right;
        let leftIn = near;
        let leftOut = best;
        let rightIn = near;
        let rightOut = best;
        let s = (box[l + inX] - ox) * ix;
        if (s > leftIn) leftIn = s;
        s = (box[l + inY] - oy) * iy;
        if (s > leftIn) leftIn = s;
        s = (box[l + inZ] - oz) * iz;
        if (s > leftIn) leftIn = s;
        s = (box[l + outX] - ox) * ix;
        if (s < leftOut) leftOut = s;
        s = (box[l + outY] - oy) * iy;
        if (s < leftOut) leftOut = s;
        s = (box[l + outZ] - oz) * iz;
        if (s < leftOut) leftOut = s;
        s = (box[r + inX] - ox) * ix;
        if (s > rightIn) rightIn = s;
        s = (box[r + inY] - oy) * iy;
        if (s > rightIn) rightIn = s;
        s = (box[r + inZ] - oz) * iz;
        if (s > rightIn) rightIn = s;
        s = (box[r + outX] - ox) * ix;
        if (s < rightOut) rightOut = s;
        s = (box[r + outY] - oy) * iy;
        if (s < rightOut) rightOut = s;
        s = (box[r + outZ] - oz) * iz;
        if (s < rightOut) rightOut = s;
        const meetsLeft = leftIn <= leftOut * (1 + 1e-6) + 1e-9;
        const meetsRight = rightIn <= rightOut * (1 + 1e-6) + 1e-9;
        if (meetsLeft && meetsRight) {
          // the child entered sooner is looked into first, so that its hit cuts the other one short
          const leftFirst = leftIn <= rightIn;
          stack[top] = leftFirst ? right : left;
          far[top++] = leftFirst ? rightIn : leftIn;
          node = leftFirst ? left : right;
          continue;
        }
        if (meetsLeft || meetsRight) {
          node = meetsLeft ? left : right;
          continue;
        }
      }
      for (let i = offset[node]; i < offset[node] + size; i++) {
        const t = order[i];
        if (t === skip) continue;
        const va = 3 * triangles[3 * t];
        const vb = 3 * triangles[3 * t + 1];
        const vc = 3 * triangles[3 * t + 2];
        const e1x = p[vb] - p[va];
        const e1y = p[vb + 1] - p[va + 1];
        const e1z = p[vb + 2] - p[va + 2];
        const e2x = p[vc] - p[va];
        const e2y = p[vc + 1] - p[va + 1];
        const e2z = p[vc + 2] - p[va + 2];
        const hx = dy * e2z - dz * e2y;
        const hy = dz * e2x - dx * e2z;
        const hz = dx * e2y - dy * e2x;
        const det = e1x * hx + e1y * hy + e1z * hz;
        if (det === 0) continue;
        const inv = 1 / det;
        const sx = ox - p[va];
        const sy = oy - p[va + 1];
        const sz = oz - p[va + 2];
        const u = inv * (sx * hx + sy * hy + sz * hz);
        if (u < -1e-9 || u > 1 + 1e-9) continue;
        const qx = sy * e1z - sz * e1y;
        const qy = sz * e1x - sx * e1z;
        const qz = sx * e1y - sy * e1x;
        const v = inv * (dx * qx + dy * qy + dz * qz);
        if (v < -1e-9 || u + v > 1 + 1e-9) continue;
        const s = inv * (e2x * qx + e2y * qy + e2z * qz);
        if (s > near && s < best) {
          best = s;
          this.lastHit = t;
          if (anyWillDo) return s;
        }
      }
      do {
        if (top === 0) return best < most ? best : Infinity;
        node = stack[--top];
      } while (far[top] > best * (1 + 1e-6) + 1e-9);
    }
  }

  /** Does a ray meet anything between two distances? */
  isBlocked(origin: Vec3, direction: Vec3, from: number, skip = -1, upTo = Infinity): boolean {
    return this.firstHit(origin, direction, from, skip, upTo, true) < upTo;
  }

  lastHit = -1;

  /** Calls `visit` for every triangle whose leaf box meets the box given; the visitor tests the triangle itself. */
  eachInBox(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number, visit: (t: number) => void): void {
    this.eachLeafInBox(x0, y0, z0, x1, y1, z1, (from, to) => {
      for (let i = from; i < to; i++) visit(this.order[i]);
    });
  }

  /** The same with the box of triangle `t` of a mesh. */
  eachInBoxOf(mesh: TriMesh, t: number, visit: (t: number) => void): void {
    const { positions: p, triangles } = mesh;
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (let c = 0; c < 3; c++)
      for (let k = 0; k < 3; k++) {
        const x = p[3 * triangles[3 * t + c] + k];
        lo[k] = Math.min(lo[k], x);
        hi[k] = Math.max(hi[k], x);
      }
    this.eachInBox(lo[0], lo[1], lo[2], hi[0], hi[1], hi[2], visit);
  }

  /**
   * Calls `visit` with the range in `order` of every leaf whose box meets the box given, until it says true.
   *
   * @returns whether it did
   */
  eachLeafInBox(
    x0: number,
    y0: number,
    z0: number,
    x1: number,
    y1: number,
    z1: number,
    visit: (from: number, to: number) => boolean | void,
  ): boolean {
    if (this.nodes === 0) return false;
    const { box, count, offset } = this;
    const stack = [0];
    while (stack.length > 0) {
      const node = stack.pop()!;
      const o = 6 * node;
      if (box[o] > x1 || box[o + 3] < x0 || box[o + 1] > y1 || box[o + 4] < y0 || box[o + 2] > z1 || box[o + 5] < z0)
        continue;
      const size = count[node];
      if (size === 0) stack.push(offset[node], node + 1);
      else if (visit(offset[node], offset[node] + size)) return true;
    }
    return false;
  }

  /** Calls `visit` for every triangle in a leaf that the plane n . p = d passes through. */
  eachAcrossPlane(nx: number, ny: number, nz: number, d: number, visit: (t: number) => void): void {
    if (this.nodes === 0) return;
    const { box, count, offset, order, stack } = this;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      const o = 6 * node;
      const middle = (nx * (box[o] + box[o + 3]) + ny * (box[o + 1] + box[o + 4]) + nz * (box[o + 2] + box[o + 5])) / 2;
      const reach =
        (Math.abs(nx) * (box[o + 3] - box[o]) +
          Math.abs(ny) * (box[o + 4] - box[o + 1]) +
          Math.abs(nz) * (box[o + 5] - box[o + 2])) /
          2 +
        1e-6 * (1 + Math.abs(d));
      if (Math.abs(middle - d) > reach) continue;
      const size = count[node];
      if (size === 0) {
        stack[top++] = offset[node];
        stack[top++] = node + 1;
      } else for (let i = offset[node]; i < offset[node] + size; i++) visit(order[i]);
    }
  }
}

/** The tree over a mesh, built once. */
export const treeOf = oncePerMesh((mesh) => new Bvh(mesh));

/** Tables that put the bits of a number to the places given, lowest first; a thousand values for each ten bits. */
function spreading(places: readonly number[]): Uint32Array {
  const table = new Uint32Array(3 * 1024);
  for (let part = 0; part < 3; part++)
    for (let x = 0; x < 1024; x++)
      for (let bit = 0; bit < 10; bit++)
        if ((x >> bit) & 1 && 10 * part + bit < places.length) table[1024 * part + x] |= 1 << places[10 * part + bit];
  return table;
}

/** The point of a triangle that was nearest last, and its squared distance. */
const closest = new Float64Array(4);

export const newHit = (): NearestHit => ({ distance: Infinity, triangle: -1, point: [0, 0, 0] });

function boxDistanceSq(box: Float32Array, node: number, x: number, y: number, z: number): number {
  const o = 6 * node;
  const dx = x < box[o] ? box[o] - x : x > box[o + 3] ? x - box[o + 3] : 0;
  const dy = y < box[o + 1] ? box[o + 1] - y : y > box[o + 4] ? y - box[o + 4] : 0;
  const dz = z < box[o + 2] ? box[o + 2] - z : z > box[o + 5] ? z - box[o + 5] : 0;
  return dx * dx + dy * dy + dz * dz;
}
