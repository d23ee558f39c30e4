import type { Triple } from '@jasmorphe/core/mesh/TriMesh';

type Rows = readonly (readonly number[])[];

/**
 * What is up once a part that lies so is leaned on the bed: to the right first, then back.
 *
 * @param rows of its rotation
 * @param backDeg its top goes away from whoever stands before the printer
 * @param rightDeg its top goes to the right
 */
export function upOfTurned(rows: Rows, backDeg: number, rightDeg: number): Triple {
  const [a, b] = [(backDeg * Math.PI) / 180, (rightDeg * Math.PI) / 180];
  // the direction of the bed that comes to be upright, then of the part
  const [x, y, z] = [-Math.sin(b), -Math.sin(a) * Math.cos(b), Math.cos(a) * Math.cos(b)];
  const up = [0, 1, 2].map((k) => x * rows[0][k] + y * rows[1][k] + z * rows[2][k]);
  const length = Math.hypot(...up);
  // as short as it is read back, so that the same pose is the same question
  return up.map((c) => Number((c / length).toFixed(6))) as Triple;
}
