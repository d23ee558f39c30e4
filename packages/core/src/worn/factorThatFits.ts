import { newHit } from '../mesh/Bvh.ts';
import type { Vec3 } from '../mesh/TriMesh.ts';
import type { RunContext } from '../run/context.ts';
import type { WornBody } from './WornBody.ts';

/** Factors looked at for the one that just fits. */
const leastFactor = 0.1;
const mostFactor = 20;

/** How far a gap may be off what it can have become at most by single precision, mm. */
const hairMm = 0.01;

/**
 * The factor about `centre` at which the narrowest place leaves `wanted`, by halving. A gap changes by no more than the
 * point moves, which is |f - g| times its distance from the centre, g being the factor it was measured at last; so only
 * those are measured again that could be on either side of what is wanted; of a body that is open all that are narrow.
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
  const n = inside.length;
  const away = new Float64Array(n);
  const known = new Float64Array(n);
  const knownAt = new Float64Array(n).fill(measuredAt);
  for (let i = 0; i < n; i++) {
    const v = 3 * inside[i];
    away[i] = Math.hypot(points[v] - centre[0], points[v + 1] - centre[1], points[v + 2] - centre[2]);
    known[i] = gap[inside[i]];
  }
  /** Does a point leave less than a limit? @param exactly measured, unless it was at this very factor */
  const isNarrower = (i: number, f: number, limit: number, exactly: boolean): boolean => {
    if (f === knownAt[i]) return known[i] < limit;
    const change = Math.abs(f - knownAt[i]) * away[i] + hairMm;
    if (!exactly && known[i] - change >= limit) return false;
    if (!exactly && known[i] + change < limit) return true;
    const v = 3 * inside[i];
    known[i] = body.gap(
      centre[0] + f * (points[v] - centre[0]),
      centre[1] + f * (points[v + 1] - centre[1]),
      centre[2] + f * (points[v + 2] - centre[2]),
      hit,
    );
    knownAt[i] = f;
    return known[i] < limit;
  };
  const active = Array.from({ length: Math.min(400, n) }, (_, i) => i);
  const held = new Uint8Array(n).fill(1, 0, active.length);
  let culprit = 0;
  const exactly = !body.isSteady;
  const leavesEnough = (f: number): boolean => {
    // the one that left too little before does so again as a rule
    if (isNarrower(active[culprit], f, wanted, exactly)) return false;
    for (let k = 0; k < active.length; k++)
      if (isNarrower(active[k], f, wanted, exactly)) {
        culprit = k;
        return false;
      }
    return true;
  };
  for (let round = 0; round < 6; round++) {
    let [lo, hi] = [leastFactor, mostFactor];
    if (!leavesEnough(hi) || leavesEnough(lo)) return null;
    while (hi - lo > 1e-5 * hi) {
      context.checkCancelled();
      const mid = Math.sqrt(lo * hi);
      if (leavesEnough(mid)) hi = mid;
      else lo = mid;
    }
    // is any point outside the list narrower there?
    let more = 0;
    for (let i = 0; i < n && more < 1500; i++) {
      if (held[i] || !isNarrower(i, hi, wanted - 1e-3, false)) continue;
      held[i] = 1;
      active.push(i);
      more++;
    }
    if (more === 0) return hi;
  }
  return null;
}
