import { hull2d } from '../../section/hull2d.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';

/** What a solid stands on. */
export interface Foot {
  /** area of the skin that the first layer lays on the bed, as seen from above, mm² */
  areaMm2: number;
  /** x, y of its corners */
  corners: number[];
}

/**
 * The foot of a solid as it lies: skin that looks down within a first layer of the bed. A round that lies on its side
 * stands on the strip that its first layer is wide.
 *
 * @param rise of each triangle: the upright share of its normal
 * @param height of the first layer's top, in the mesh's coordinates
 */
export function footOf({ positions: p, triangles: t }: TriMesh, rise: Float32Array, height: number): Foot {
  let areaMm2 = 0;
  const corners: number[] = [];
  for (let i = 0; i < rise.length; i++) {
    if (rise[i] >= 0) continue;
    const v = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
    if (p[v[0] + 2] > height && p[v[1] + 2] > height && p[v[2] + 2] > height) continue;
    // what of the triangle lies below
    const poly: number[] = [];
    for (let k = 0; k < 3; k++) {
      const a = v[k];
      const b = v[(k + 1) % 3];
      const za = p[a + 2] - height;
      const zb = p[b + 2] - height;
      if (za <= 0) poly.push(p[a], p[a + 1]);
      if (za < 0 !== zb < 0 && za !== 0 && zb !== 0) {
        const s = za / (za - zb);
        poly.push(p[a] + s * (p[b] - p[a]), p[a + 1] + s * (p[b + 1] - p[a + 1]));
      }
    }
    for (let k = 2; k + 3 < poly.length; k += 2)
      areaMm2 += Math.abs(
        ((poly[k] - poly[0]) * (poly[k + 3] - poly[1]) - (poly[k + 1] - poly[1]) * (poly[k + 2] - poly[0])) / 2,
      );
    corners.push(...poly);
  }
  return { areaMm2, corners };
}

/**
 * How far a solid may lean before it falls over, degrees: from the middle of its flesh to the nearest side of what it
 * stands on. Negative where it falls by itself.
 *
 * @param corners x, y of all that stands on the bed
 * @param floor height of the bed
 */
export function tipDeg(corners: readonly number[], centre: Vec3, floor: number): number {
  const hull = hull2d(corners);
  const n = hull.length / 2;
  const height = Math.max(1e-9, centre[2] - floor);
  let least = Infinity;
  if (n < 3) {
    // a line or a point carries nothing across it
    return corners.length === 0 ? -90 : 0;
  }
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const dx = hull[2 * j] - hull[2 * i];
    const dy = hull[2 * j + 1] - hull[2 * i + 1];
    const length = Math.hypot(dx, dy);
    if (!(length > 0)) continue;
    least = Math.min(least, (dx * (centre[1] - hull[2 * i + 1]) - dy * (centre[0] - hull[2 * i])) / length);
  }
  return (Math.atan2(least, height) * 180) / Math.PI;
}
