import type { BodyView, PartView } from '@jasmorphe/contracts/views';

/** The part that the print stop is about: the one picked, or else what needs a hand most. */
export function partInHand(body: BodyView, picked: string | null): PartView | undefined {
  const first = (state: PartView['state']) => body.parts.find((p) => p.state === state);
  return (
    body.parts.find((p) => p.id === picked) ??
    first('failed') ??
    first('printing') ??
    body.parts.find((p) => p.rests > 0 && p.state === 'planned') ??
    first('planned') ??
    body.parts[0]
  );
}
