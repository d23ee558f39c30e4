import { treeOf, type Bvh } from './Bvh.ts';
import { quietContext, type RunContext } from '../run/context.ts';
import { sampleSurface } from './deviation.ts';
import { triangleCentre, triangleNormal } from './measures.ts';
import { dot } from './transform.ts';
import { diagonalOf, triangleCount, type TriMesh } from './TriMesh.ts';

export interface Thickness {
  minMm: number;
  p01Mm: number;
  p05Mm: number;
  medianMm: number;
  /** share of the surface thinner than the least thickness asked for; null when none was */
  belowMinAreaPct: number | null;
  samples: number;
  method: string;
}

/** How thickness is measured, and what it makes of walls whose sides are not parallel. */
const thicknessMethod =
  'ray along the inward normal: exact for parallel sides; too much by 1 / cos of the angle between the sides of a wedge';

/**
 * Wall thickness under points of a surface: how far a ray goes inward along the reversed normal until it meets the skin
 * again. Exact for walls with parallel sides; along a wedge it reads too much by 1 / cos of the angle between the sides,
 * and towards a rim it measures the length of the wall.
 */
export class WallProbe {
  private readonly tree: Bvh;
  private readonly start: number;
  /** triangle on the far side of the wall last measured, or -1 */
  far = -1;
  /** unit normal of the triangle last measured from */
  normal: readonly [number, number, number] = [0, 0, 1];

  constructor(readonly mesh: TriMesh) {
    this.tree = treeOf(mesh);
    this.start = 1e-6 * diagonalOf(mesh);
  }

  /** Thickness under a point of triangle `t`, mm; Infinity where the ray leaves without meeting anything. */
  at(x: number, y: number, z: number, t: number): number {
    const n = triangleNormal(this.mesh, t);
    this.normal = n;
    const d = this.tree.firstHit([x, y, z], [-n[0], -n[1], -n[2]], this.start, t);
    this.far = Number.isFinite(d) ? this.tree.lastHit : -1;
    return d;
  }
}

/** Are two skins the sides of one wall? They face away from each other within 60 degrees; the sides of a blunt edge do not. */
export function isWall(mesh: TriMesh, near: number, far: number): boolean {
  return far >= 0 && dot(triangleNormal(mesh, near), triangleNormal(mesh, far)) < -0.5;
}

/** Share of the skin, percent, under which a wall is thinner than `least` mm. */
export function thinPct(mesh: TriMesh, { triangles, depth, far }: WallSamples, least: number): number {
  let thin = 0;
  for (let i = 0; i < depth.length; i++) if (depth[i] < least && isWall(mesh, triangles[i], far[i])) thin++;
  return depth.length > 0 ? (100 * thin) / depth.length : 0;
}

/** Thickness under the middle of every triangle, mm; Infinity where there is no far side. */
export function thicknessMap(mesh: TriMesh, context: RunContext = quietContext): Float32Array {
  const probe = new WallProbe(mesh);
  const n = triangleCount(mesh);
  const out = new Float32Array(n);
  for (let t = 0; t < n; t++) {
    if ((t & 4095) === 0) {
      context.checkCancelled();
      context.progress(t / n, 'Measuring walls');
    }
    const c = triangleCentre(mesh, t);
    out[t] = probe.at(c[0], c[1], c[2], t);
  }
  return out;
}

/** Thickness at points spread evenly over the surface, with the skins on both sides. */
export interface WallSamples {
  /** x, y, z each */
  points: Float32Array;
  triangles: Uint32Array;
  /** mm; Infinity where there is no far side */
  depth: Float32Array;
  /** triangle on the far side, or -1 */
  far: Int32Array;
}

export function sampleWalls(mesh: TriMesh, count: number, context: RunContext = quietContext): WallSamples {
  const probe = new WallProbe(mesh);
  const { points, triangles } = sampleSurface(mesh, count, context.seed);
  const depth = new Float32Array(triangles.length);
  const far = new Int32Array(triangles.length);
  for (let i = 0; i < triangles.length; i++) {
    if ((i & 1023) === 0) {
      context.checkCancelled();
      context.progress(i / triangles.length, 'Measuring walls');
    }
    depth[i] = probe.at(points[3 * i], points[3 * i + 1], points[3 * i + 2], triangles[i]);
    far[i] = probe.far;
  }
  return { points, triangles, depth, far };
}

/** Figures of thickness from samples; `least` mm for the share that is thinner. */
export function thicknessFigures({ depth }: WallSamples, least: number | null): Thickness {
  const found = depth.filter((d) => Number.isFinite(d)).sort();
  const at = (q: number) => (found.length > 0 ? found[Math.min(found.length - 1, Math.floor(q * found.length))] : 0);
  return {
    minMm: at(0),
    p01Mm: at(0.01),
    p05Mm: at(0.05),
    medianMm: at(0.5),
    belowMinAreaPct:
      least === null || found.length === 0 ? null : (100 * found.filter((d) => d < least).length) / found.length,
    samples: found.length,
    method: thicknessMethod,
  };
}

/** Figures of thickness over the surface, from points spread evenly over it. */
export const thicknessOf = (
  mesh: TriMesh,
  least: number | null,
  samples = 40_000,
  context: RunContext = quietContext,
): Thickness => thicknessFigures(sampleWalls(mesh, samples, context), least);
