import type { BodyView } from '@jasmorphe/contracts/views';
import { useEditStepMutation, useRunStepMutation } from '../app/api.ts';
import { useStake, type Stake } from '../decision/useStake.ts';
import type { StageId } from './stages.ts';
import { stepOfStage } from './stages.ts';

/**
 * Runs a stage's operation: as a new step, or, when the stage has one in force already, by changing that step and
 * replaying what follows. Where parts are printed it is asked first what that does to them.
 */
export function useStep(
  body: BodyView,
  stage: StageId,
  operation: string,
): {
  run: (params: Record<string, unknown>) => void;
  applied: ReturnType<typeof stepOfStage>;
  /** how many steps of the line the stage's own starts from */
  after: number;
  sending: boolean;
  stake: Stake | null;
} {
  const [add, adding] = useRunStepMutation();
  const [edit, editing] = useEditStepMutation();
  const found = stepOfStage(body, stage);
  const applied = found?.inForce ? found : null;
  const send = (params: Record<string, unknown>, dry: boolean) =>
    applied
      ? edit({ bodyId: body.id, index: applied.index, params, dry })
      : add({ bodyId: body.id, operation, params, dry });
  const { stake, run } = useStake(
    body.parts.some((p) => p.rests > 0 || (p.state !== 'planned' && p.state !== 'aside')),
    async (params) => (await send(params, true)).data ?? null,
    (params) => void send(params, false),
  );
  return { applied, after: applied?.index ?? body.cursor, sending: adding.isLoading || editing.isLoading, run, stake };
}
