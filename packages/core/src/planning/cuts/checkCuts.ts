import { axes, type Axis } from '../../mesh/axes.ts';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { MeshError } from '../../run/MeshError.ts';
import { bestLie, cellsFor } from './grid.ts';
import { mostCuts, type PlaneCut } from './PlaneCut.ts';

/**
 * Refuses a cut that misses the model.
 *
 * @throws MeshError `bad-params`
 */
export function checkCuts(mesh: TriMesh, cuts: readonly PlaneCut[]): void {
  const { min, max } = boundsOf(mesh);
  for (const { normal, offset } of cuts) {
    let lo = 0;
    let hi = 0;
    for (let k = 0; k < 3; k++) {
      lo += Math.min(normal[k] * min[k], normal[k] * max[k]);
      hi += Math.max(normal[k] * min[k], normal[k] * max[k]);
    }
    if (offset > lo && offset < hi) continue;
    const k = axisOf(normal);
    const where =
      k === null ? `along ${normal.map((x) => x.toFixed(2)).join(', ')} at ${offset}` : `at ${k} = ${offset}`;
    throw new MeshError(
      'bad-params',
      `A cut ${where} mm misses the model, which reaches from ${lo.toFixed(1)} to ${hi.toFixed(1)}.`,
      '',
      'at',
    );
  }
}

/** The axis that a normal lies along; null where it is aslant. */
export const axisOf = (normal: Vec3): Axis | null => axes.find((_, k) => Math.abs(normal[k]) === 1) ?? null;

/**
 * Refuses beds so small that no plan can be made.
 *
 * @throws MeshError `bad-params`
 */
export function checkPlannable(mesh: TriMesh, rooms: readonly Vec3[]): void {
  const size = sizeOf(boundsOf(mesh));
  const cells = Math.min(...rooms.map((r) => cellsFor(size, bestLie(size, r))));
  if (cells > mostCuts)
    throw new MeshError(
      'bad-params',
      `The bed is so small that ${cells} cells would be needed.`,
      'Size the model down, or give a larger bed.',
      'bed',
    );
}

/**
 * Refuses a solid that holds nothing because its skin faces inward.
 *
 * @throws MeshError `not-solid`
 */
export function checkFacesOut(volumeMm3: number): void {
  if (!(volumeMm3 > 0))
    throw new MeshError('not-solid', 'The skin faces inward: there is no inside to cut.', 'Mend it first.');
}
