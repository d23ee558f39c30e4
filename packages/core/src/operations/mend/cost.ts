import type { RunContext } from '../../run/context.ts';
import { deviationOf, type Deviation } from '../../mesh/deviation.ts';
import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { twinsOf } from '../../mesh/edges.ts';
import { triangleArea, triangleNormal } from '../../mesh/measures.ts';
import { sharedTriangles } from '../../mesh/sharedTriangles.ts';
import { cross, dot } from '../../mesh/transform.ts';
import { triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';
import { UnionFind } from '../../mesh/UnionFind.ts';
import { windingOf } from '../../mesh/WindingTree.ts';

/** Points on each skin that distances are measured at. */
const samples = 30_000;

/** What was made up to close holes. */
export interface PatchCost {
  /** of the patches, mm² */
  areaMm2: number;
  /** how far a patch lies from the old skin at most: no error, since nothing says where the skin was */
  farthestMm: number;
  /** what patches enclose beyond a cone from the middle of their rims, mm³ */
  bulgeMm3: number;
}

/** Area and bulge of the triangles that were made up, patch by patch. */
function patchFigures(closed: TriMesh, made: Uint8Array): { areaMm2: number; bulgeMm3: number } {
  const { positions: p, triangles } = closed;
  const twin = twinsOf(closed);
  const sets = new UnionFind(made.length);
  for (let h = 0; h < twin.length; h++)
    if (twin[h] >= 0 && made[(h / 3) | 0] && made[(twin[h] / 3) | 0]) sets.union((h / 3) | 0, (twin[h] / 3) | 0);
  // middles of the rims, by the edges that a patch shares with the old skin
  const rims = new Map<number, [number, number, number, number]>();
  for (let h = 0; h < twin.length; h++) {
    const t = (h / 3) | 0;
    if (!made[t] || twin[h] < 0 || made[(twin[h] / 3) | 0]) continue;
    const rim = rims.get(sets.find(t)) ?? [0, 0, 0, 0];
    const v = 3 * triangles[h];
    for (let k = 0; k < 3; k++) rim[k] += p[v + k];
    rim[3]++;
    rims.set(sets.find(t), rim);
  }
  let areaMm2 = 0;
  let bulge = 0;
  for (let t = 0; t < made.length; t++) {
    if (!made[t]) continue;
    const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]];
    areaMm2 += triangleArea(p, a, b, c);
    const rim = rims.get(sets.find(t));
    if (!rim) continue;
    const q = [a, b, c].map((v) => [0, 1, 2].map((k) => p[3 * v + k] - rim[k] / rim[3]) as [number, number, number]);
    bulge += dot(q[0], cross(q[1], q[2])) / 6;
  }
  return { areaMm2, bulgeMm3: bulge };
}

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
): { deviation: Deviation; patches: PatchCost | null; buriedPct: number; untouchedPct: number } {
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
  // of the new skin, what closes a hole has no old skin to be held against
  const made = sharedTriangles(kept, closed).b.map((old) => 1 - old);
  const hit = newHit();
  let farthestMm = 0;
  const patch = made.includes(1)
    ? (x: number, y: number, z: number, _t: number, d: number) => {
        const near = treeOf(closed).nearest(x, y, z, Infinity, hit, hit.triangle);
        const is = made[near.triangle] === 1;
        if (is && d > farthestMm) farthestMm = d;
        return is;
      }
    : undefined;
  const { leftPct: buriedPct, ...deviation } = deviationOf(kept, result, samples, context, shared, left, patch);
  return {
    deviation,
    patches: patch ? { ...patchFigures(closed, made), farthestMm } : null,
    buriedPct,
    untouchedPct: n === 0 ? 100 : (100 * untouched) / n,
  };
}
