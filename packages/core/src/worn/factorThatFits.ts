import { newHit } from '../mesh/Bvh.ts';
import type { Vec3 } from '../mesh/TriMesh.ts';
import type { RunContext } from '../run/context.ts';
import type { WornBody } from './WornBody.ts';

/** Factors looked at for the one that just fits. */
const leastFactor = 0.1;
const mostFactor = 20;

/**
 * The factor about `centre` at which the narrowest place leaves `wanted`, by halving. A point moves by no more than
 * |f - g| times its distance from the centre, g being the factor it was measured at, so only those that could become the narrowest are measured again.
 */
export function factorThatFits(
  points: Float32Array,
  /** narrowest first */
  inside: number[],
  gap: Float32Array,
  /** factor that the gaps were measured at */
  measuredAt: number,
  body: WornBody,
  centre: Vec3,
  wanted: number,
  context: RunContext,
): number | null {
  const hit = newHit();
  const away = (v: number) =>
    Math.hypot(points[3 * v] - centre[0], points[3 * v + 1] - centre[1], points[3 * v + 2] - centre[2]);
  const gapAt = (v: number, f: number) =>
    body.gap(
      centre[0] + f * (points[3 * v] - centre[0]),
      centre[1] + f * (points[3 * v + 1] - centre[1]),
      centre[2] + f * (points[3 * v + 2] - centre[2]),
      hit,
    );
  let active = inside.slice(0, 400);
  const least = (f: number): number => {
    let best = Infinity;
    for (const v of active) best = Math.min(best, gapAt(v, f));
    return best;
  };
  for (let round = 0; round < 6; round++) {
    let [lo, hi] = [leastFactor, mostFactor];
    if (least(hi) < wanted) return null;
    if (least(lo) > wanted) return null;
    while (hi - lo > 1e-5 * hi) {
      context.checkCancelled();
      const mid = Math.sqrt(lo * hi);
      if (least(mid) < wanted) lo = mid;
      else hi = mid;
    }
    // is any point outside the list narrower there?
    const worse: number[] = [];
    const held = new Set(active);
    for (const v of inside)
      if (!held.has(v) && gap[v] - Math.abs(hi - measuredAt) * away(v) < wanted - 1e-3 && gapAt(v, hi) < wanted - 1e-3)
        worse.push(v);
    if (worse.length === 0) return hi;
    active = [...active, ...worse.slice(0, 1500)];
  }
  return null;
}
