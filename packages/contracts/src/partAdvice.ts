import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { DividedPart } from '@jasmorphe/core/operations/divide/describe';
import { adviceOf, type Advice } from '@jasmorphe/core/planning/advice';
import type { SchoolPose } from '@jasmorphe/core/planning/pose/posesOf';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { lastStepOf } from './steps.ts';
import type { BodyView, PartView } from './views.ts';

/** A part as its divide made it; the rest of one that stopped is still that part. */
export const madeOf = ({ line, cursor }: Pick<BodyView, 'line' | 'cursor'>, tag: string): DividedPart | undefined =>
  lastStepOf(line, cursor, catalogue.divide)?.report.parts.find((p) => tag === p.tag || tag.startsWith(`${p.tag}r`));

/**
 * What to set before a part is printed, each with its reason.
 *
 * @param pose in which it lies, or would; null while it is not laid
 * @param size as it lies, where the pose does not tell
 */
export function adviceForPart(
  body: Pick<BodyView, 'line' | 'cursor'>,
  { tag, mesh }: Pick<PartView, 'tag' | 'mesh'>,
  pose: SchoolPose | null,
  { kind = 'filament', brimMm = 0 }: Partial<PrinterProfile>,
  size = pose?.size ?? { ...mesh.facts.size, z: pose?.heightMm ?? mesh.facts.size.z },
): Advice[] {
  const made = madeOf(body, tag);
  // on what it stands nobody knows
  if (!pose && !made) return [];
  return adviceOf({
    kind,
    size,
    footMm2: pose?.footMm2 ?? made?.footMm2 ?? 0,
    supportMm3: pose?.supportMm3 ?? 0,
    joints: made?.beside.length ?? 0,
    brimMm,
  });
}
