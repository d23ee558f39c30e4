import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { crossesOf } from '../../mesh/measures.ts';
import { applyMat3, normalize, vec3, type Mat3 } from '../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import type { StopTrouble } from '../../trade/stopKinds.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { insertAt } from './insertAt.ts';
import { pauseAt } from './layerBounds.ts';
import type { PrintStop, StopWish } from './StopWish.ts';

/** A point that was picked on skin is taken this far off it, into the open, mm. */
const offSkinMm = 0.05;

/** A point this far off is of no part, mm. */
const farMm = 1e7;

/** The point beside one that lies on the skin, where nothing is. */
function besideSkin(mesh: TriMesh, at: Vec3): Vec3 {
  const hit = treeOf(mesh).nearest(at[0], at[1], at[2], offSkinMm, newHit());
  if (hit.triangle < 0) return at;
  const crosses = crossesOf(mesh);
  const normal = normalize(vec3((k) => crosses[3 * hit.triangle + k]));
  return vec3((k) => at[k] + 2 * offSkinMm * normal[k]);
}

/**
 * When a print stops for what is wished, in the order of heights; what comes to nothing is last, and says why.
 *
 * @param lying the part as it lies, with the bed at height `floor`
 * @param rows of the rotation that lays it so
 * @param times of its layers, s
 */
export function printStops(
  lying: TriMesh,
  rows: Mat3,
  wishes: readonly StopWish[],
  floor: number,
  heightMm: number,
  times: Float64Array,
  profile: PrinterProfile,
): PrintStop[] {
  const whole = times.reduce((a, b) => a + b, 0);
  const shareAfter = (layer: number): number => times.subarray(0, layer + 1).reduce((a, b) => a + b, 0) / whole;
  const stopped = ({ what, words, mm, at, highMm }: StopWish, wish: number): PrintStop => {
    const base = { what, words, wish, standsOutMm: null };
    const none = (trouble: StopTrouble): PrintStop => ({ ...base, afterLayer: null, atMm: null, share: null, trouble });
    const on = (afterLayer: number, atMm: number, standsOutMm: number | null = null): PrintStop => ({
      ...base,
      afterLayer,
      atMm,
      share: shareAfter(afterLayer),
      standsOutMm,
      trouble: null,
    });
    if (mm === undefined && at === undefined) return none('no-place');
    if (at?.some((c) => Math.abs(c) > farMm)) return none('no-place');
    if (what === 'insert' && at !== undefined) {
      const placed = besideSkin(lying, applyMat3(rows, at));
      const found = insertAt(lying, placed, highMm, floor, profile);
      if (!found) return none('no-hollow');
      if (found.afterLayer === null || found.atMm === null) return none('stays-open');
      return found.afterLayer < 0 ? none('before-first') : on(found.afterLayer, found.atMm, found.standsOutMm);
    }
    const height = mm ?? applyMat3(rows, at!)[2] - floor;
    const pause = pauseAt(height, heightMm, profile);
    if (!pause) return none(height > heightMm / 2 ? 'above' : 'before-first');
    return on(pause.afterLayer, pause.atMm);
  };
  return wishes.map(stopped).sort((a, b) => (a.atMm ?? Infinity) - (b.atMm ?? Infinity) || a.wish - b.wish);
}
