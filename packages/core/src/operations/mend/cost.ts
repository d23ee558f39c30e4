import { Bvh } from '../../mesh/Bvh.ts';
import type { RunContext } from '../../mesh/context.ts';
import { deviationOf, type Deviation } from '../../mesh/deviation.ts';
import { triangleCentre, triangleNormal } from '../../mesh/measures.ts';
import { once } from '../../mesh/once.ts';
import { triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { WindingTree } from '../../mesh/WindingTree.ts';
import { sharedTriangles } from './untouched.ts';

/**
 * What mending changed: distances of the skin that can be seen, what lay buried, and what stayed bit for bit.
 *
 * @param kept the old skin without what was dropped as crumbs and sheets
 * @param closed the same, stitched: tells inside from outside
 * @param nearMm how far beside the skin to look for body
 */
export function costOf(
  source: TriMesh,
  kept: TriMesh,
  closed: TriMesh,
  result: TriMesh,
  nearMm: number,
  context: RunContext,
): { deviation: Deviation; buriedPct: number; untouchedPct: number } {
  const whole = sharedTriangles(source, result);
  const n = triangleCount(source);
  const untouched = whole.a.reduce((sum, x) => sum + x, 0);
  const shared = sharedTriangles(kept, result);
  let seen = 0;
  const all = triangleCount(kept);
  const winding = once(() => new WindingTree(new Bvh(closed)));
  /** is there body on both sides of the skin here? */
  const buried = (x: number, y: number, z: number, t: number): boolean => {
    const [nx, ny, nz] = triangleNormal(kept, t);
    const inside = (side: number) =>
      winding().at(x + side * nearMm * nx, y + side * nearMm * ny, z + side * nearMm * nz) >= 0.5;
    return inside(1) && inside(-1);
  };
  for (let t = 0; t < all; t++) {
    if ((t & 0xfff) === 0) context.checkCancelled();
    if (shared.a[t] || !buried(...triangleCentre(kept, t), t)) seen++;
  }
  return {
    deviation: deviationOf(
      kept,
      result,
      40_000,
      context,
      shared,
      // of the old skin only what can be seen counts
      (x, y, z, t, d) => d > nearMm / 10 && buried(x, y, z, t),
    ),
    buriedPct: all === 0 ? 0 : (100 * (all - seen)) / all,
    untouchedPct: n === 0 ? 100 : (100 * untouched) / n,
  };
}
