import { newHit, treeOf } from './Bvh.ts';
import { quietContext, type RunContext } from '../run/context.ts';
import { areaOf, triangleArea } from './measures.ts';
import { randomFrom } from './random.ts';
import { triangleCount, vertexCount, type TriMesh } from './TriMesh.ts';

/** Distances of one surface from another, mm. */
export interface OneWay {
  maxMm: number;
  p95Mm: number;
  meanMm: number;
}

export interface Deviation extends OneWay {
  aToB: OneWay;
  bToA: OneWay;
  /** mean distance between neighbouring samples: anything narrower may be missed */
  spacingMm: number;
}

export interface PartDeviation extends Deviation {
  /** share of a's area that was left out of account, from the samples */
  leftPct: number;
}

/**
 * Points on a surface: `count` spread evenly by area (systematic sampling with a random place in each triangle).
 *
 * @returns x, y, z per point, and the triangle of each
 */
export function sampleSurface(
  mesh: TriMesh,
  count: number,
  seed: number,
): { points: Float32Array; triangles: Uint32Array } {
  const { positions: p, triangles } = mesh;
  const random = randomFrom(seed);
  const total = areaOf(mesh);
  const step = total / count;
  const points = new Float32Array(3 * (count + 1));
  const owner = new Uint32Array(count + 1);
  let used = 0;
  let debt = random() * step;
  const n = triangleCount(mesh);
  for (let t = 0; t < n && step > 0; t++) {
    const a = triangles[3 * t];
    const b = triangles[3 * t + 1];
    const c = triangles[3 * t + 2];
    debt -= triangleArea(p, a, b, c);
    while (debt < 0 && used <= count) {
      debt += step;
      let u = random();
      let v = random();
      if (u + v > 1) {
        u = 1 - u;
        v = 1 - v;
      }
      for (let k = 0; k < 3; k++)
        points[3 * used + k] = p[3 * a + k] + u * (p[3 * b + k] - p[3 * a + k]) + v * (p[3 * c + k] - p[3 * a + k]);
      owner[used++] = t;
    }
  }
  return { points: points.slice(0, 3 * used), triangles: owner.slice(0, used) };
}

/** Is a point on a triangle of one surface, so far from the other, left out of account? */
export type LeftOut = (x: number, y: number, z: number, triangle: number, distance: number) => boolean;

function oneWay(
  from: TriMesh,
  to: TriMesh,
  samples: number,
  context: RunContext,
  same?: Uint8Array,
  left?: LeftOut,
): { distances: Float32Array; result: OneWay; leftPct: number } {
  const { points: sampled, triangles: owner } = sampleSurface(from, samples, context.seed);
  const changed = same ? new Uint8Array(vertexCount(from)) : null;
  if (same && changed)
    for (let h = 0; h < from.triangles.length; h++) if (!same[(h / 3) | 0]) changed[from.triangles[h]] = 1;
  const corners = Math.min(vertexCount(from), samples);
  const stride = Math.max(1, Math.floor(vertexCount(from) / Math.max(1, corners)));
  const distances = new Float32Array(sampled.length / 3);
  const hit = newHit();
  let max = 0;
  let used = 0;
  for (let i = 0; i < distances.length; i++) {
    if ((i & 1023) === 0) {
      context.checkCancelled();
      context.progress(i / distances.length, 'Measuring deviation');
    }
    if (same?.[owner[i]]) {
      distances[used++] = 0;
      continue;
    }
    const [x, y, z] = [sampled[3 * i], sampled[3 * i + 1], sampled[3 * i + 2]];
    const d = treeOf(to).nearest(x, y, z, Infinity, hit, hit.triangle).distance;
    if (left?.(x, y, z, owner[i], d)) continue;
    distances[used++] = d;
    if (d > max) max = d;
  }
  // corners are where surfaces stand apart the most: they count for the largest figure and not for the typical ones
  const p = from.positions;
  const at = new Uint32Array(left ? vertexCount(from) : 0);
  if (left) from.triangles.forEach((v, h) => void (at[v] = (h / 3) | 0));
  for (let v = 0; v < vertexCount(from); v += stride) {
    if (changed && !changed[v]) continue;
    const x = p[3 * v];
    const y = p[3 * v + 1];
    const z = p[3 * v + 2];
    if (max > 0 && treeOf(to).isWithin(x, y, z, max, hit.triangle)) continue;
    const d = treeOf(to).nearest(x, y, z, Infinity, hit, hit.triangle).distance;
    if (d > max && !left?.(x, y, z, at[v], d)) max = d;
  }
  const measured = distances.subarray(0, used);
  const leftPct = distances.length > 0 ? 100 * (1 - used / distances.length) : 0;
  return { distances: measured, result: summary(measured, max), leftPct };
}

function summary(distances: Float32Array, max: number): OneWay {
  const n = distances.length;
  // most lie on the other surface as a rule: those are counted and the rest sorted
  const off = new Float32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) if (distances[i] > 0) off[count++] = distances[i];
  const sorted = off.subarray(0, count).sort();
  const on = n - count;
  let sum = 0;
  for (let i = 0; i < sorted.length; i++) sum += sorted[i];
  const rank = Math.min(n - 1, Math.floor(0.95 * n)) - on;
  return { maxMm: max, p95Mm: rank >= 0 ? sorted[rank] : 0, meanMm: n > 0 ? sum / n : 0 };
}

/** Triangles that both surfaces have, flagged: nothing needs to be measured on them. */
export interface SameTriangles {
  a: Uint8Array;
  b: Uint8Array;
}

/**
 * Two-way distance between surfaces a and b: evenly spread samples and corners of each against the other's triangles.
 *
 * @param samples points on each surface
 * @param left points of a, on a triangle and so far from b, that are left out of account
 * @param leftOfB the same for points of b
 */
export function deviationOf(
  a: TriMesh,
  b: TriMesh,
  samples = 60_000,
  context: RunContext = quietContext,
  same?: SameTriangles,
  left?: LeftOut,
  leftOfB?: LeftOut,
): PartDeviation {
  const ab = oneWay(a, b, samples, context, same?.a, left);
  const ba = oneWay(b, a, samples, context, same?.b, leftOfB);
  const both = new Float32Array(ab.distances.length + ba.distances.length);
  both.set(ab.distances);
  both.set(ba.distances, ab.distances.length);
  return {
    ...summary(both, Math.max(ab.result.maxMm, ba.result.maxMm)),
    aToB: ab.result,
    bToA: ba.result,
    leftPct: ab.leftPct,
    spacingMm: Math.sqrt(Math.max(areaOf(a), areaOf(b)) / samples),
  };
}
