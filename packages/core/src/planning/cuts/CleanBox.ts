import type { Vec3 } from '../../mesh/TriMesh.ts';

/** Something that must stay clean: a box, mm. */
export interface CleanBox {
  min: Vec3;
  max: Vec3;
}

/** What a seam counts for where the maker wants none. */
export const keptClean = 8;

/** The share of a line between two points that lies in a box. */
export function shareIn({ min, max }: CleanBox, from: Vec3, to: Vec3): number {
  let enter = 0;
  let leave = 1;
  for (let k = 0; k < 3; k++) {
    const d = to[k] - from[k];
    if (d === 0) {
      if (from[k] < min[k] || from[k] > max[k]) return 0;
      continue;
    }
    const a = (min[k] - from[k]) / d;
    const b = (max[k] - from[k]) / d;
    enter = Math.max(enter, Math.min(a, b));
    leave = Math.min(leave, Math.max(a, b));
  }
  return Math.max(0, leave - enter);
}
