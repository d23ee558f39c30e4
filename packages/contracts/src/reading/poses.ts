import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import type { Xyz } from '@jasmorphe/core/mesh/TriMesh';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { isStepOf, lastStepOf, type StepOf, type StepView } from '../steps.ts';
import type { BodyView } from '../views.ts';

/** Does it say how a part lies? */
export const laysOf = ({ operation }: { operation: OperationName }): boolean => descriptionOf(operation).lays === true;

/** What a tip is known by: the mesh that it touches, and where. */
export const tipKey = (meshHash: string, { x, y, z }: Xyz): string =>
  `tip:${meshHash.slice(0, 16)}:${[x, y, z].map((c) => c.toFixed(1).replace(/^-0\.0$/, '0.0')).join(',')}`;

/** The keys of tips. */
export const tipKeys = /^tip:[0-9a-f]{16}:-?\d{1,7}\.\d,-?\d{1,7}\.\d,-?\d{1,7}\.\d$/;

/** Cut faces of a model's parts: they are glued, so that nobody sees marks of support there. */
export function gluedFaces({ line, cursor }: Pick<BodyView, 'line' | 'cursor'>): PlaneCut[] {
  const cuts = lastStepOf(line, cursor, catalogue.divide)?.report.cuts ?? [];
  // cuts along closed lines have no plane of their own
  return cuts
    .filter((c) => !c.loop)
    .map(({ normal: { x, y, z }, offset }): PlaneCut => ({ normal: [x, y, z], offset }))
    .slice(0, mostGlued);
}
const mostGlued = 200;

/** The pose that is in force after so many steps of a part's line; none where it lies as its divide left it. */
export function poseAfter(line: readonly StepView[], count: number): StepOf<'pose'> | undefined {
  const step = line.slice(0, count).findLast(laysOf);
  return step && isStepOf(step, catalogue.pose) ? step : undefined;
}
