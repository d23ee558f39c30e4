import { identity3, normalize } from '../../mesh/transform.ts';
import type { TriMesh } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { checkSolid } from '../pose/checkSolid.ts';
import { poseAt, posesOf, type SchoolPose } from '../pose/posesOf.ts';
import type { School } from '../pose/schools.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import type { LyingPart } from './bedfulsOf.ts';
import type { Mat3 } from '../../mesh/transform.ts';

/**
 * A part laid for each printer, with its hours and grams there.
 *
 * @param school null leaves it as it lies
 * @throws MeshError `not-solid`
 */
export async function layPart(
  source: TriMesh,
  printers: readonly PrinterProfile[],
  school: School | null,
  context: RunContext,
): Promise<LyingPart> {
  const mesh = weldExact(source);
  checkSolid(mesh);
  const poses: SchoolPose[] = [];
  for (const [i, profile] of printers.entries()) {
    const own = sliceContext(context, i / printers.length, (i + 1) / printers.length);
    const aim = { profile, unseen: [], hidden: [], bare: [] };
    poses.push(
      school === null
        ? await poseAt(mesh, aim, 'own', [0, 0, 1], own)
        : (await posesOf(mesh, aim, [school], own)).poses[0],
    );
  }
  const upright = (rotation: number[][]): Mat3 =>
    // as it lies it keeps its own front
    school === null ? identity3 : (rotation.map((r) => normalize([r[0], r[1], r[2]])) as unknown as Mat3);
  return {
    mesh,
    rotations: poses.map((p) => (p.fits ? upright(p.rotation) : null)),
    durationS: poses.map((p) => p.durationS),
    materialG: poses.map((p) => p.materialG),
    heightMm: poses.map((p) => p.heightMm),
    holdMm: Math.max(0, ...printers.filter((p) => p.kind === 'filament').flatMap((p) => [p.brimMm, p.raftMm])),
  };
}
