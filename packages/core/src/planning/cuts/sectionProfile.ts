import { cross, dot, normalize, type Mat3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import { keptClean, shareIn, type CleanBox } from './CleanBox.ts';
import { partsOfBox } from './quickFit.ts';

/** What planes at rising offsets along a direction would cut. */
export interface SectionProfile {
  normal: Vec3;
  offsets: Float64Array;
  areaMm2: Float64Array;
  /** length of the seam, each stretch by how much it shows */
  seenMm: Float64Array;
  seamMm: Float64Array;
  /** parts that the two sides are expected to come to, each in its best frame */
  parts: Float64Array;
  /** the larger of the two */
  larger: Float64Array;
}

/** Two directions at right angles to a third and to each other. */
export function besideOf(normal: Vec3): [Vec3, Vec3] {
  const [x, y, z] = normal.map(Math.abs);
  const helper: Vec3 = x <= y && x <= z ? [1, 0, 0] : y <= z ? [0, 1, 0] : [0, 0, 1];
  const u = normalize(cross(normal, helper));
  return [u, cross(normal, u)];
}

/**
 * Sweeps planes along a direction through a skin, all at once: every triangle adds to the planes that cross it, every
 * corner to the boxes of the side on which it lies.
 *
 * Boxes stand as lowest and highest of each axis of each frame, `2 * axes` numbers a plane.
 *
 * @param clean boxes in which a seam counts for much more
 */
export function sectionProfile(
  part: { positions: Float32Array; triangles: Uint32Array; seen: Float32Array; frames: readonly Mat3[] },
  normal: Vec3,
  offsets: Float64Array,
  rooms: readonly Vec3[],
  clean: readonly CleanBox[] = [],
): SectionProfile {
  const { positions: p, triangles: t, seen } = part;
  const count = offsets.length;
  const frames: Mat3[] = [...part.frames];
  const [u, v] = besideOf(normal);
  frames.push([normal, u, v]);
  const axes = frames.flat();
  const k2 = 2 * axes.length;
  const vertices = p.length / 3;
  const height = new Float64Array(vertices);
  const bin = new Uint32Array(vertices);
  const empty = (n: number): Float64Array => {
    const box = new Float64Array(n * k2);
    for (let i = 0; i < box.length; i += 2) {
      box[i] = Infinity;
      box[i + 1] = -Infinity;
    }
    return box;
  };
  // boxes of the corners between planes, and of the sections themselves
  const between = empty(count + 1);
  const inPlane = empty(count);
  const along = new Float64Array(vertices * axes.length);
  for (let i = 0; i < vertices; i++) {
    const x = p[3 * i];
    const y = p[3 * i + 1];
    const z = p[3 * i + 2];
    const h = normal[0] * x + normal[1] * y + normal[2] * z;
    height[i] = h;
    let lo = 0;
    let hi = count;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (offsets[mid] > h) hi = mid;
      else lo = mid + 1;
    }
    bin[i] = lo;
    for (let a = 0; a < axes.length; a++) {
      const w = axes[a][0] * x + axes[a][1] * y + axes[a][2] * z;
      along[i * axes.length + a] = w;
      const at = lo * k2 + 2 * a;
      if (w < between[at]) between[at] = w;
      if (w > between[at + 1]) between[at + 1] = w;
    }
  }
  const areaMm2 = new Float64Array(count);
  const seenMm = new Float64Array(count);
  const seamMm = new Float64Array(count);
  const base: Vec3 = [p[0], p[1], p[2]];
  const ends = new Float64Array(6);
  for (let i = 0; i < t.length; i += 3) {
    const b0 = bin[t[i]];
    const b1 = bin[t[i + 1]];
    const b2 = bin[t[i + 2]];
    const from = Math.min(b0, b1, b2);
    const to = Math.max(b0, b1, b2);
    for (let o = from; o < to; o++) {
      const at = offsets[o];
      for (let k = 0; k < 3; k++) {
        const a = t[i + k];
        const b = t[k === 2 ? i : i + k + 1];
        // a corner on the plane counts as above
        const above = height[a] >= at;
        if (above === height[b] >= at) continue;
        const s = (at - height[a]) / (height[b] - height[a]);
        // the body lies on the left of the way from where the skin goes down to where it rises
        const slot = above ? 0 : 3;
        for (let c = 0; c < 3; c++) ends[slot + c] = p[3 * a + c] + s * (p[3 * b + c] - p[3 * a + c]) - base[c];
        for (let x = 0; x < axes.length; x++) {
          const wa = along[a * axes.length + x];
          const w = wa + s * (along[b * axes.length + x] - wa);
          const place = o * k2 + 2 * x;
          if (w < inPlane[place]) inPlane[place] = w;
          if (w > inPlane[place + 1]) inPlane[place + 1] = w;
        }
      }
      const [ax, ay, az, bx, by, bz] = ends;
      areaMm2[o] +=
        (normal[0] * (ay * bz - az * by) + normal[1] * (az * bx - ax * bz) + normal[2] * (ax * by - ay * bx)) / 2;
      if (seen[i / 3] > 0) {
        const length = Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2 + (bz - az) ** 2);
        seamMm[o] += length;
        let weight = seen[i / 3];
        if (clean.length > 0) {
          const from: Vec3 = [ax + base[0], ay + base[1], az + base[2]];
          const to: Vec3 = [bx + base[0], by + base[1], bz + base[2]];
          const share = Math.min(
            1,
            clean.reduce((sum, one) => sum + shareIn(one, from, to), 0),
          );
          weight += share * (keptClean - weight);
        }
        seenMm[o] += length * weight;
      }
    }
  }
  return { normal, offsets, areaMm2, seenMm, seamMm, ...partsOfSides(between, inPlane, count, axes.length, rooms) };
}

/** Parts expected of what lies below plus of what lies above each plane. */
function partsOfSides(
  between: Float64Array,
  inPlane: Float64Array,
  count: number,
  axes: number,
  rooms: readonly Vec3[],
): Pick<SectionProfile, 'parts' | 'larger'> {
  const k2 = 2 * axes;
  const parts = new Float64Array(count);
  const larger = new Float64Array(count);
  const box = new Float64Array(k2);
  const size: [number, number, number] = [0, 0, 0];
  const take = (from: Float64Array, at: number): void => {
    for (let k = 0; k < k2; k += 2) {
      if (from[at + k] < box[k]) box[k] = from[at + k];
      if (from[at + k + 1] > box[k + 1]) box[k + 1] = from[at + k + 1];
    }
  };
  const withSection = (o: number): number => {
    let best = Infinity;
    for (let f = 0; f < k2; f += 6) {
      for (let k = 0; k < 3; k++) {
        const at = f + 2 * k;
        const lo = Math.min(box[at], inPlane[o * k2 + at]);
        const hi = Math.max(box[at + 1], inPlane[o * k2 + at + 1]);
        size[k] = Math.max(0, hi - lo);
      }
      best = Math.min(best, partsOfBox(size, rooms));
    }
    return best;
  };
  for (const side of [0, 1]) {
    for (let k = 0; k < k2; k += 2) {
      box[k] = Infinity;
      box[k + 1] = -Infinity;
    }
    for (let i = 0; i < count; i++) {
      const o = side === 0 ? i : count - 1 - i;
      take(between, (side === 0 ? o : o + 1) * k2);
      const n = withSection(o);
      parts[o] += n;
      if (n > larger[o]) larger[o] = n;
    }
  }
  return { parts, larger };
}

/** Angle between directions that may be turned about, as |cos|. */
export const alike = (a: Vec3, b: Vec3): number => Math.abs(dot(a, b));
