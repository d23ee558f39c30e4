import { cross, dot, normalize, vec3, type Mat3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import { firstAbove } from '../../section/Slicer.ts';
import { keptClean, placesOn, shareIn, type CleanPlace } from './CleanBox.ts';
import { partsOfBox } from './quickFit.ts';
import type { Skin } from './Skin.ts';

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

/** What sweeps in all directions through one skin share. */
export interface SweptSkin {
  /** two corners each */
  edges: Uint32Array;
  /** every corner along the rows of every frame */
  along: Float64Array;
}

type Swept = Skin & { frames: readonly Mat3[] };

/** Makes ready what the sweeps through a skin share. */
export function sweptSkin({ positions: p, triangles: t, frames }: Swept): SweptSkin {
  const n = p.length / 3;
  const edges: number[] = [];
  const known = new Set<number>();
  for (let i = 0; i < t.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const a = t[i + k];
      const b = t[k === 2 ? i : i + k + 1];
      // closed skins have every edge in both directions
      const key = a < b ? a * n + b : b * n + a;
      if (known.has(key)) continue;
      known.add(key);
      edges.push(a, b);
    }
  const rows = frames.flat();
  const along = new Float64Array(n * rows.length);
  for (let i = 0; i < n; i++)
    for (let a = 0; a < rows.length; a++)
      along[i * rows.length + a] = rows[a][0] * p[3 * i] + rows[a][1] * p[3 * i + 1] + rows[a][2] * p[3 * i + 2];
  return { edges: Uint32Array.from(edges), along };
}

const emptyBoxes = (numbers: number): Float64Array => {
  const box = new Float64Array(numbers);
  for (let i = 0; i < box.length; i += 2) {
    box[i] = Infinity;
    box[i + 1] = -Infinity;
  }
  return box;
};

/** Corners in the frame of a direction, and between which planes each lies. */
function placed(p: Float32Array, rows: Mat3, offsets: Float64Array): { own: Float64Array; bin: Uint32Array } {
  const n = p.length / 3;
  const own = new Float64Array(3 * n);
  const bin = new Uint32Array(n);
  for (let i = 0; i < n; i++) {
    const x = p[3 * i];
    const y = p[3 * i + 1];
    const z = p[3 * i + 2];
    for (let r = 0; r < 3; r++) own[3 * i + r] = rows[r][0] * x + rows[r][1] * y + rows[r][2] * z;
    bin[i] = firstAbove(offsets, own[3 * i]);
  }
  return { own, bin };
}

/** Widens the boxes of each plane's section by where edges cross it, and those between planes by corners. */
function widen(
  { edges, along }: SweptSkin,
  own: Float64Array,
  bin: Uint32Array,
  offsets: Float64Array,
  between: Float64Array,
  inPlane: Float64Array,
): void {
  const corners = bin.length;
  const given = along.length / corners;
  const k2 = 2 * (given + 3);
  for (let i = 0; i < corners; i++) {
    let at = bin[i] * k2;
    for (let a = i * given; a < (i + 1) * given; a++, at += 2) {
      const w = along[a];
      if (w < between[at]) between[at] = w;
      if (w > between[at + 1]) between[at + 1] = w;
    }
    for (let a = 3 * i; a < 3 * i + 3; a++, at += 2) {
      const w = own[a];
      if (w < between[at]) between[at] = w;
      if (w > between[at + 1]) between[at + 1] = w;
    }
  }
  for (let e = 0; e < edges.length; e += 2) {
    let a = edges[e];
    let b = edges[e + 1];
    if (bin[a] === bin[b]) continue;
    if (bin[a] > bin[b]) [a, b] = [b, a];
    const to = bin[b];
    const low = own[3 * a];
    const rise = own[3 * b] - low;
    for (let o = bin[a]; o < to; o++) {
      const s = (offsets[o] - low) / rise;
      let at = o * k2;
      for (let x = 0; x < given; x++, at += 2) {
        const wa = along[a * given + x];
        const w = wa + s * (along[b * given + x] - wa);
        if (w < inPlane[at]) inPlane[at] = w;
        if (w > inPlane[at + 1]) inPlane[at + 1] = w;
      }
      for (let x = 0; x < 3; x++, at += 2) {
        const wa = own[3 * a + x];
        const w = wa + s * (own[3 * b + x] - wa);
        if (w < inPlane[at]) inPlane[at] = w;
        if (w > inPlane[at + 1]) inPlane[at + 1] = w;
      }
    }
  }
}

/**
 * Sweeps planes along a direction through a skin, all at once: every triangle adds to the planes that cross it, every
 * corner to the boxes of the side on which it lies.
 *
 * Boxes stand as lowest and highest of each axis of each frame, `2 * axes` numbers a plane.
 *
 * @param clean places in which a seam counts for much more
 * @param swept what the sweeps share, where there are several
 */
export function sectionProfile(
  part: Swept,
  normal: Vec3,
  offsets: Float64Array,
  rooms: readonly Vec3[],
  clean: readonly CleanPlace[] = [],
  swept: SweptSkin = sweptSkin(part),
): SectionProfile {
  const { positions: p, triangles: t, seen } = part;
  const count = offsets.length;
  const [u, v] = besideOf(normal);
  const { own, bin } = placed(p, [normal, u, v], offsets);
  const axes = 3 * part.frames.length + 3;
  // boxes of the corners between planes, and of the sections themselves
  const between = emptyBoxes((count + 1) * 2 * axes);
  const inPlane = emptyBoxes(count * 2 * axes);
  widen(swept, own, bin, offsets, between, inPlane);
  const areaMm2 = new Float64Array(count);
  const seenMm = new Float64Array(count);
  const seamMm = new Float64Array(count);
  const cleanOn = Array.from(offsets, (at) => placesOn(clean, normal, at));
  const baseU = own[1];
  const baseV = own[2];
  for (let i = 0; i < t.length; i += 3) {
    const b0 = bin[t[i]];
    const b1 = bin[t[i + 1]];
    const b2 = bin[t[i + 2]];
    if (b0 === b1 && b1 === b2) continue;
    const from = Math.min(b0, b1, b2);
    const to = Math.max(b0, b1, b2);
    for (let o = from; o < to; o++) {
      const at = offsets[o];
      // the body lies on the left of the way from where the skin goes down to where it rises
      let u0 = 0;
      let v0 = 0;
      let u1 = 0;
      let v1 = 0;
      for (let k = 0; k < 3; k++) {
        const a = 3 * t[i + k];
        const b = 3 * t[k === 2 ? i : i + k + 1];
        // a corner on the plane counts as above
        const above = own[a] >= at;
        if (above === own[b] >= at) continue;
        const s = (at - own[a]) / (own[b] - own[a]);
        const along = own[a + 1] + s * (own[b + 1] - own[a + 1]) - baseU;
        const across = own[a + 2] + s * (own[b + 2] - own[a + 2]) - baseV;
        if (above) {
          u0 = along;
          v0 = across;
        } else {
          u1 = along;
          v1 = across;
        }
      }
      areaMm2[o] += (u0 * v1 - v0 * u1) / 2;
      const shows = seen[i / 3];
      if (!(shows > 0)) continue;
      const length = Math.sqrt((u1 - u0) ** 2 + (v1 - v0) ** 2);
      seamMm[o] += length;
      let weight = shows;
      if (cleanOn[o].length > 0) {
        const place = (a: number, b: number): Vec3 =>
          vec3((k) => at * normal[k] + (a + baseU) * u[k] + (b + baseV) * v[k]);
        weight += shareIn(cleanOn[o], place(u0, v0), place(u1, v1)) * (keptClean - weight);
      }
      seenMm[o] += length * weight;
    }
  }
  return { normal, offsets, areaMm2, seenMm, seamMm, ...partsOfSides(between, inPlane, count, axes, rooms) };
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
