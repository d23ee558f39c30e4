import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import type { PrintOutcome } from '@jasmorphe/core/planning/printState';
import { useAddLogMutation } from '../../app/api.ts';

/** Adds entries about a part to the print log. */
export function useSay(
  body: BodyView,
  part: PartView,
): { say: (outcome: PrintOutcome, heightMm?: number) => void; saying: boolean } {
  const [add, { isLoading }] = useAddLogMutation();
  return {
    say: (outcome, heightMm) =>
      void add({ projectId: body.projectId, modelId: body.id, partId: part.id, outcome, heightMm }),
    saying: isLoading,
  };
}
