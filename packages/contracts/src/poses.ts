import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import type { Xyz } from '@jasmorphe/core/mesh/TriMesh';
import { isStepOf, type StepOf, type StepView } from './steps.ts';

/** Does it say how a part lies? */
export const laysOf = ({ operation }: { operation: OperationName }): boolean => descriptionOf(operation).lays === true;

/** What a tip is known by: the mesh that it touches, and where. */
export const tipKey = (meshHash: string, { x, y, z }: Xyz): string =>
  `tip:${meshHash.slice(0, 16)}:${[x, y, z].map((c) => c.toFixed(1).replace(/^-0\.0$/, '0.0')).join(',')}`;

/** The keys of tips. */
export const tipKeys = /^tip:[0-9a-f]{16}:-?\d{1,7}\.\d,-?\d{1,7}\.\d,-?\d{1,7}\.\d$/;

/** The pose that is in force after so many steps of a part's line; none where it lies as its divide left it. */
export function poseAfter(line: readonly StepView[], count: number): StepOf<'pose'> | undefined {
  const step = line.slice(0, count).findLast(laysOf);
  return step && isStepOf(step, catalogue.pose) ? step : undefined;
}
