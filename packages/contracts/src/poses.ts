import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { isStepOf, type StepOf, type StepView } from './steps.ts';

/** Does it say how a part lies? */
export const laysOf = ({ operation }: { operation: OperationName }): boolean => descriptionOf(operation).lays === true;

/** The pose that is in force after so many steps of a part's line; none where it lies as its divide left it. */
export function poseAfter(line: readonly StepView[], count: number): StepOf<'pose'> | undefined {
  const step = line.slice(0, count).findLast(laysOf);
  return step && isStepOf(step, catalogue.pose) ? step : undefined;
}
