import type { BodyView } from '@jasmorphe/contracts/views';
import { useEditStepMutation, useRunStepMutation } from '../app/api.ts';
import type { StageId } from './stages.ts';
import { stepOfStage } from './stages.ts';

/**
 * Runs a stage's operation: as a new step, or, when the stage has one in force already, by changing that step and
 * replaying what follows.
 */
export function useStep(
  body: BodyView,
  stage: StageId,
  operation: string,
): { run: (params: Record<string, unknown>) => void; applied: ReturnType<typeof stepOfStage>; sending: boolean } {
  const [add, adding] = useRunStepMutation();
  const [edit, editing] = useEditStepMutation();
  const found = stepOfStage(body, stage);
  const applied = found?.inForce ? found : null;
  return {
    applied,
    sending: adding.isLoading || editing.isLoading,
    run: (params) =>
      void (applied
        ? edit({ bodyId: body.id, index: applied.index, params })
        : add({ bodyId: body.id, operation, params })),
  };
}
