import type { RunContext } from '../../mesh/context.ts';
import { deviationOf, type Deviation } from '../../mesh/deviation.ts';
import { triangleNormal } from '../../mesh/measures.ts';
import { sharedTriangles } from '../../mesh/sharedTriangles.ts';
import { triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { windingOf } from '../../mesh/WindingTree.ts';

/** Points on each skin that distances are measured at. */
const samples = 30_000;

/**
 * What mending changed: distances of the skin that can be seen, what lay buried, and what stayed bit for bit.
 *
 * @param kept the old skin without what was dropped as crumbs and sheets
 * @param closed the same, stitched: tells inside from outside
 * @param nearMm skin this near to the new one is seen; where it lies deeper, body on both sides shows that it is buried
 */
export function costOf(
  source: TriMesh,
  kept: TriMesh,
  closed: TriMesh,
  result: TriMesh,
  nearMm: number,
  context: RunContext,
): { deviation: Deviation; buriedPct: number; untouchedPct: number } {
  const shared = sharedTriangles(kept, result);
  const whole = kept === source ? shared : sharedTriangles(source, result);
  const n = triangleCount(source);
  const untouched = whole.a.reduce((sum, x) => sum + x, 0);
  /** is there body on both sides of the skin here? */
  const buried = (x: number, y: number, z: number, t: number): boolean => {
    const [nx, ny, nz] = triangleNormal(kept, t);
    const inside = (side: number) =>
      windingOf(closed).at(x + side * nearMm * nx, y + side * nearMm * ny, z + side * nearMm * nz) >= 0.5;
    return inside(1) && inside(-1);
  };
  // of the old skin only what can be seen counts
  const left = (x: number, y: number, z: number, t: number, d: number) => d > nearMm && buried(x, y, z, t);
  const { leftPct: buriedPct, ...deviation } = deviationOf(kept, result, samples, context, shared, left);
  return {
    deviation,
    buriedPct,
    untouchedPct: n === 0 ? 100 : (100 * untouched) / n,
  };
}
