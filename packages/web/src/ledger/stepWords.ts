import type { StepView } from '@jasmorphe/contracts/steps';
import { descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { wordsOf } from '@jasmorphe/core/params/Param';
import type { Speaker } from '@jasmorphe/core/words/numbers';

/** What a step did, in the past tense of the ledger. */
export const stepTitle = (name: OperationName): string => descriptionOf(name).words.done;

/** The one figure of a step. */
export function stepFigure(step: StepView, say: Speaker): string {
  return descriptionOf(step.operation).words.figure?.(step.params, step.report, say) ?? '';
}

/** The figures of a step in workshop words; what goes without saying, or is said by the step's own figure, is left out. */
export function paramWords(step: StepView, say: Speaker): string[] {
  const words = wordsOf(descriptionOf(step.operation).params);
  return Object.entries(step.params).flatMap(([key, value]) => {
    if (value === null || value === undefined) return [];
    const said = words.get(key)?.says?.(value as never, say) ?? null;
    return said === null ? [] : [said];
  });
}
