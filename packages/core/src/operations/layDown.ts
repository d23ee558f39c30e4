import { boundsOf, type TriMesh } from '../mesh/TriMesh.ts';
import { placeMesh, rotationToZ, transpose, type Mat3 } from '../mesh/transform.ts';
import { weldExact } from '../mesh/weld.ts';
import { parseParams } from '../params/parseParams.ts';
import { checkSolid } from '../planning/pose/checkSolid.ts';
import { PrinterProfile } from '../planning/PrinterProfile.ts';
import type { LyingParams } from './lying.ts';

/** A solid as it lies on a printer's bed. */
export interface Lying {
  profile: PrinterProfile;
  /** in its own place, and turned as it lies */
  mesh: TriMesh;
  lying: TriMesh;
  rows: Mat3;
  back: Mat3;
  /** height of its lowest point as it lies, and how high it is, mm */
  floor: number;
  heightMm: number;
}

/**
 * Lays a mesh as params say.
 *
 * @throws MeshError `not-solid`, `bad-params`
 */
export function layDown(source: TriMesh, { printer, up, rotation }: LyingParams): Lying {
  const mesh = weldExact(source);
  checkSolid(mesh);
  const profile = parseParams(PrinterProfile, printer ?? {});
  const rows = rotation ?? rotationToZ(up);
  const lying = placeMesh(mesh, rows);
  const { min, max } = boundsOf(lying);
  return { profile, mesh, lying, rows, back: transpose(rows), floor: min[2], heightMm: max[2] - min[2] };
}
