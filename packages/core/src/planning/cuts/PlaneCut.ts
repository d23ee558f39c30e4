import { axes } from '../../mesh/axes.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { CleanBox } from './CleanBox.ts';
import type { CutAt } from './grid.ts';

/** A flat cut. What lies where the normal points to is above it. */
export interface PlaneCut {
  /** unit length */
  normal: Vec3;
  /** n . p of its points, mm */
  offset: number;
  /** a point of the section; then only the part that has it there is cut. Left out, the cut goes through all parts */
  through?: Vec3;
  /** the cut ends at this box: what it would part outside of it stays together */
  within?: CleanBox;
  /** a closed line on the skin that is cut along, instead of the plane, which then lies nearest to it */
  loop?: readonly Vec3[];
}

/** Height of a point over the plane of a cut, mm. */
export const heightOver = ({ normal, offset }: PlaneCut, [x, y, z]: Vec3): number =>
  normal[0] * x + normal[1] * y + normal[2] * z - offset;

/** How many cuts a plan may have. */
export const mostCuts = 2000;

/** The plane of a cut at right angles to an axis. */
export function planeOf({ axis, mm }: CutAt): PlaneCut {
  const normal: [number, number, number] = [0, 0, 0];
  normal[axes.indexOf(axis)] = 1;
  return { normal, offset: mm };
}
