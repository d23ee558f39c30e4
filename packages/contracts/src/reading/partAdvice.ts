import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { DividedPart } from '@jasmorphe/core/operations/divide/describe';
import { adviceOf, type Advice } from '@jasmorphe/core/planning/advice';
import type { SchoolPose } from '@jasmorphe/core/planning/pose/posesOf';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import type { Xyz } from '@jasmorphe/core/mesh/TriMesh';
import { isStepOf, lastStepOf } from '../steps.ts';
import type { BodyView, PartView } from '../views.ts';

/** A part as its divide made it; the rest of one that stopped is still that part. */
export const madeOf = ({ line, cursor }: Pick<BodyView, 'line' | 'cursor'>, tag: string): DividedPart | undefined =>
  lastStepOf(line, cursor, catalogue.divide)?.report.parts.find((p) => tag === p.tag || tag.startsWith(`${p.tag}r`));

const isSameTurn = (a: readonly (readonly number[])[], b: readonly (readonly number[])[]): boolean =>
  a.every((row, i) => row.every((x, k) => Math.abs(x - b[i][k]) < 1e-6));

/**
 * What a part stands on as it lies, mm²: by its pose; the cut face, where what is left of it lies so down; or the flat on which its
 * divide laid it. Null where it lies otherwise and nobody looked.
 */
function footOf(
  { line, cursor, mesh, meshHash, rotation }: AdvisedPart,
  pose: SchoolPose | null,
  made: DividedPart | undefined,
): number | null {
  if (pose) return pose.footMm2;
  const done = line.slice(0, cursor);
  const last = done.findLast((s) => isStepOf(s, catalogue.recut) || isStepOf(s, catalogue.pose));
  if (last && isStepOf(last, catalogue.recut)) return last.report.contactAreaMm2;
  return made && mesh.hash === meshHash && isSameTurn(rotation, made.pose.rotation) ? made.footMm2 : null;
}

/** Its box as it lies, mm; what of it nobody knows without looking at the mesh is 0. */
function sizeAsItLies({ mesh, rotation, heightMm }: AdvisedPart): Xyz {
  const { x, y, z } = mesh.facts.size;
  const along = rotation.map((row) => row.findIndex((r) => Math.abs(Math.abs(r) - 1) < 1e-6));
  return along.includes(-1)
    ? { x: 0, y: 0, z: heightMm }
    : { x: [x, y, z][along[0]], y: [x, y, z][along[1]], z: [x, y, z][along[2]] };
}

type AdvisedPart = Pick<PartView, 'tag' | 'mesh' | 'meshHash' | 'line' | 'cursor' | 'rotation' | 'heightMm'>;

/**
 * What to set before a part is printed, each with its reason.
 *
 * @param pose in which it lies, or would; null while it is not laid
 * @param size as it lies, where the pose does not tell
 */
export function adviceForPart(
  body: Pick<BodyView, 'line' | 'cursor'>,
  part: AdvisedPart,
  pose: SchoolPose | null,
  { kind = 'filament', brimMm = 0 }: Partial<PrinterProfile>,
  size: Xyz = pose?.size ?? sizeAsItLies(part),
): Advice[] {
  const made = madeOf(body, part.tag);
  const footMm2 = footOf(part, pose, made);
  // on what it stands nobody knows
  if (footMm2 === null) return [];
  return adviceOf({
    kind,
    size,
    footMm2,
    supportMm3: pose?.supportMm3 ?? 0,
    joints: made?.beside.length ?? 0,
    brimMm,
  });
}
