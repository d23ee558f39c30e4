import { placeMesh, type Mat3 } from '../../mesh/transform.ts';
import { boundsOf, type TriMesh } from '../../mesh/TriMesh.ts';
import { multiply } from '../bedFit.ts';
import type { PlacedPart } from './bedfulsOf.ts';

/** A mesh as it stands on a bed: laid, turned about the vertical, the middle of its box where it was put, its lowest point at 0. */
export function placeOnBed(
  mesh: TriMesh,
  rotation: Mat3,
  { at, turnDeg }: Pick<PlacedPart, 'at' | 'turnDeg'>,
): TriMesh {
  const a = (turnDeg * Math.PI) / 180;
  const turn: Mat3 = [
    [Math.cos(a), -Math.sin(a), 0],
    [Math.sin(a), Math.cos(a), 0],
    [0, 0, 1],
  ];
  const rows = multiply(turn, rotation);
  const { min, max } = boundsOf(placeMesh(mesh, rows));
  return placeMesh(mesh, rows, [at.x - (min[0] + max[0]) / 2, at.y - (min[1] + max[1]) / 2, -min[2]]);
}
