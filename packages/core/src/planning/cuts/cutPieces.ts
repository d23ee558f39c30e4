import { rotationToZ } from '../../mesh/transform.ts';
import type { RoughPiece } from '../estimate.ts';
import type { PlanPart } from './planParts.ts';

/** A part of a plan of cuts as it would lie on a bed, by the box around it; of the stand-in. */
export interface CutPiece extends RoughPiece {
  /** sides of its box beside its height, the longer first, mm */
  wideMm: number;
  deepMm: number;
}

/** Turns about the vertical that are looked at, in a quarter turn. */
const turnsTried = 30;

/** Sides of the least of the boxes around a part at some turns about its up, the longer first, mm. */
function sidesOf({ positions: p, up }: Pick<PlanPart, 'positions' | 'up'>): [number, number] {
  const [x, y] = rotationToZ(up);
  const flat = new Float64Array((2 * p.length) / 3);
  for (let i = 0, n = 0; i < p.length; i += 3) {
    flat[n++] = x[0] * p[i] + x[1] * p[i + 1] + x[2] * p[i + 2];
    flat[n++] = y[0] * p[i] + y[1] * p[i + 1] + y[2] * p[i + 2];
  }
  let best: [number, number] = [Infinity, Infinity];
  for (let k = 0; k < turnsTried; k++) {
    const c = Math.cos((k * Math.PI) / 2 / turnsTried);
    const s = Math.sin((k * Math.PI) / 2 / turnsTried);
    let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let i = 0; i < flat.length; i += 2) {
      const u = c * flat[i] + s * flat[i + 1];
      const v = c * flat[i + 1] - s * flat[i];
      if (u < u0) u0 = u;
      if (u > u1) u1 = u;
      if (v < v0) v0 = v;
      if (v > v1) v1 = v;
    }
    if ((u1 - u0) * (v1 - v0) < best[0] * best[1]) best = [u1 - u0, v1 - v0];
  }
  return best[0] < best[1] ? [best[1], best[0]] : best;
}

/** Parts of a plan as they would lie: each in the pose in which its support was judged. */
export const cutPieces = (parts: readonly PlanPart[]): CutPiece[] =>
  parts.map((part) => {
    const [wideMm, deepMm] = sidesOf(part);
    const { volumeMm3, areaMm2, heightMm, supportMm3 } = part;
    return { volumeMm3, areaMm2, heightMm, columnsMm3: supportMm3, wideMm, deepMm };
  });
