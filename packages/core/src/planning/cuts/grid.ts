import type { Vec3 } from '../../mesh/TriMesh.ts';
import { axes, type Axis } from '../../mesh/axes.ts';

/** A plane at right angles to an axis, mm. */
export interface CutAt {
  axis: Axis;
  mm: number;
}

/** Even cuts so that no cell is larger than `room` along each axis. */
export function gridCuts(min: Vec3, size: Vec3, room: Vec3): CutAt[] {
  const cuts: CutAt[] = [];
  axes.forEach((axis, k) => {
    // a model that fits but for float32 rounding needs no cut
    const cells = Math.max(1, Math.ceil(size[k] / room[k] - 1e-5));
    for (let i = 1; i < cells; i++) cuts.push({ axis, mm: min[k] + (size[k] * i) / cells });
  });
  return cuts;
}

const permutations: Vec3[] = [
  [0, 1, 2],
  [1, 0, 2],
  [0, 2, 1],
  [2, 1, 0],
  [1, 2, 0],
  [2, 0, 1],
];

/** How many cells the even grid has for a body of the size given. */
export const cellsFor = (size: Vec3, room: Vec3): number =>
  size.reduce((n, s, k) => n * Math.max(1, Math.ceil(s / room[k] - 1e-5)), 1);

/** The way for the bed to lie against the model's axes that needs the fewest cells; as it stands if none is better. */
export function bestLie(size: Vec3, room: Vec3): Vec3 {
  let best = room;
  for (const way of permutations) {
    const r = way.map((k) => room[k]) as unknown as Vec3;
    if (cellsFor(size, r) < cellsFor(size, best)) best = r;
  }
  return best;
}
