import { treeOf } from './Bvh.ts';
import { quietContext, type RunContext } from './context.ts';
import { sampleSurface } from './deviation.ts';
import { triangleNormal } from './measures.ts';
import { diagonalOf, type TriMesh } from './TriMesh.ts';

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

/**
 * Wall thickness at points spread evenly over the surface: how far a ray goes inward along the reversed normal until
 * it meets the skin from inside. Exact for walls with parallel sides; along a wedge it reads too much by 1 / cos of
 * the angle between the sides, and towards a rim it measures the length of the wall.
 *
 * @param least mm, for the share that is thinner
 */
export function thicknessOf(
  mesh: TriMesh,
  least: number | null,
  samples = 40_000,
  context: RunContext = quietContext,
): Thickness {
  const tree = treeOf(mesh);
  const { points, triangles } = sampleSurface(mesh, samples, context.seed);
  const start = 1e-6 * diagonalOf(mesh);
  const found: number[] = [];
  for (let i = 0; i < triangles.length; i++) {
    if ((i & 1023) === 0) {
      context.checkCancelled();
      context.progress(i / triangles.length, 'Measuring walls');
    }
    const n = triangleNormal(mesh, triangles[i]);
    const d = tree.firstHit(
      [points[3 * i], points[3 * i + 1], points[3 * i + 2]],
      [-n[0], -n[1], -n[2]],
      start,
      triangles[i],
    );
    if (Number.isFinite(d)) found.push(d);
  }
  found.sort((a, b) => a - b);
  const at = (q: number) => (found.length > 0 ? found[Math.min(found.length - 1, Math.floor(q * found.length))] : 0);
  return {
    minMm: at(0),
    p01Mm: at(0.01),
    p05Mm: at(0.05),
    medianMm: at(0.5),
    belowMinAreaPct:
      least === null || found.length === 0 ? null : (100 * found.filter((d) => d < least).length) / found.length,
    samples: found.length,
    method: 'ray along the inward normal',
  };
}
