import type { Vec3 } from '../../mesh/TriMesh.ts';
import { parseParams } from '../../params/parseParams.ts';
import { weldExact } from '../../mesh/weld.ts';
import { faceAt } from '../../planning/faceAt.ts';
import { checkSolid } from '../../planning/pose/checkSolid.ts';
import { poseAt, posesOf } from '../../planning/pose/posesOf.ts';
import { schools, type School } from '../../planning/pose/schools.ts';
import { PrinterProfile } from '../../planning/PrinterProfile.ts';
import { makeOperation } from '../makeOperation.ts';
import { description } from './describe.ts';

/** Looks for poses by school, or measures the one that is told. The mesh stays as it is. */
export const pose = makeOperation(
  description,
  async ([source], { printer, school, compare, up, face, unseen = [], hidden = [], bare = [] }, context) => {
    const mesh = weldExact(source);
    checkSolid(mesh);
    const profile = parseParams(PrinterProfile, printer ?? {});
    const aim = { profile, unseen, hidden, bare };
    const { kind } = profile;
    if (face || up) {
      const { normal } = face ? faceAt(mesh, face) : { normal: null };
      const way: Vec3 = normal ? [-normal[0], -normal[1], -normal[2]] : up!;
      const told = await poseAt(mesh, aim, school ?? 'own', way, context);
      return { outputs: [], report: { poses: [told], chosen: told.school, looked: 1, fits: told.fits, kind } };
    }
    const chosen = school ?? 'best';
    const wanted: readonly School[] = compare ? schools : [chosen];
    const { poses, looked, fits } = await posesOf(mesh, aim, wanted, context);
    return { outputs: [], report: { poses, chosen, looked, fits, kind } };
  },
);
