import { descriptionOf, type OperationName, type ParamsOf, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import type { Makes } from '@jasmorphe/core/operations/Description';

/** A step as it is kept: what was run on what, and what came of it. */
export interface StepRecord<N extends OperationName = OperationName, Params = object, Report = unknown> {
  id: string;
  operation: N;
  version: number;
  params: Params;
  inputs: string[];
  outputs: string[];
  report: Report;
  elapsedMs: number;
  createdAt: string;
}

/** A step of one operation, with the types of its params and its report. */
export type StepOf<N extends OperationName> = StepRecord<N, ParamsOf<N>, ReportOf<N>>;

/** A step of any operation: its params and report have their types once it is known of which. */
export type StepView = { [N in OperationName]: StepOf<N> }[OperationName];

/** Is it a step of that operation? */
export const isStepOf = <N extends OperationName>(
  step: StepView,
  operation: { name: N },
): step is StepOf<N> & StepView => step.operation === operation.name;

/** The last step of an operation among the first `count` of a line. */
export const lastStepOf = <N extends OperationName>(
  line: readonly StepView[],
  count: number,
  operation: { name: N },
): StepOf<N> | undefined => {
  for (let i = Math.min(count, line.length) - 1; i >= 0; i--) {
    const step = line[i];
    if (isStepOf(step, operation)) return step;
  }
  return undefined;
};

/** What a step made. */
export const makesOf = (step: { operation: OperationName }): Makes => descriptionOf(step.operation).makes;

/** Did it make the body's own mesh, rather than parts of it or a report? */
export const makesSkin = (step: { operation: OperationName; outputs: readonly string[] }): boolean =>
  step.outputs.length > 0 && (makesOf(step) === 'skin' || makesOf(step) === 'model');

/** Hash of the body's mesh after so many steps of its line; a divide leaves the whole as it was. Undefined where none made one. */
export const meshHashAfter = (
  line: readonly { operation: OperationName; outputs: string[] }[],
  count: number,
): string | undefined => line.slice(0, count).findLast(makesSkin)?.outputs[0];
