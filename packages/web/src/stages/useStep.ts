import type { BodyView } from '@jasmorphe/contracts/views';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { ParamsOf } from '@jasmorphe/core/operations/catalogue';
import { isHeld } from '@jasmorphe/core/planning/printState';
import { useEditStepMutation, useRunStepMutation } from '../app/api.ts';
import { useStake, type Stake } from '../decision/useStake.ts';
import { keptParams, type EditedOnCard, type ShownOf } from './shownParams.ts';
import { ownStep } from './Stage.ts';

/**
 * Runs a stage's operation: as a new step, or, when the stage has one in force already, by changing that step and
 * replaying what follows. Where parts are printed it is asked first what that does to them.
 */
export function useStep<N extends EditedOnCard>(
  body: BodyView,
  operation: { name: N },
): {
  /** @param params all that the card shows; what it does not show is kept as it is */
  run: (params: Partial<ShownOf<N>>) => void;
  applied: { step: StepOf<N>; index: number } | null;
  /** params of the step in force that the card does not show */
  kept: Partial<ParamsOf<N>>;
  /** how many steps of the line the stage's own starts from */
  after: number;
  sending: boolean;
  stake: Stake | null;
} {
  const [add, adding] = useRunStepMutation();
  const [edit, editing] = useEditStepMutation();
  const found = ownStep(body, operation);
  const applied = found?.inForce ? found : null;
  const kept = applied ? keptParams(operation.name, applied.step.params) : {};
  const send = (params: object, how: { dry?: boolean; lose?: boolean }) =>
    applied
      ? edit({ bodyId: body.id, index: applied.index, params, ...how })
      : add({ bodyId: body.id, operation: operation.name, params, ...how });
  const { stake, run } = useStake(
    body.parts.some(isHeld),
    async (params: object) => (await send(params, { dry: true })).data ?? null,
    (params, lose) => void send(params, { dry: false, ...(lose && { lose }) }),
  );
  return {
    applied,
    kept,
    after: applied?.index ?? body.cursor,
    sending: adding.isLoading || editing.isLoading,
    run: (params) => run({ ...kept, ...params }),
    stake,
  };
}
