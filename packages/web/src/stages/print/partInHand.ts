import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { isPrinting, isRestWaiting, isStopped, isWaiting } from '@jasmorphe/core/planning/printState';

/** The part that the print stop is about: the one picked, or else what needs a hand most. */
export const partInHand = ({ parts }: Pick<BodyView, 'parts'>, picked: string | null): PartView | undefined =>
  parts.find((p) => p.id === picked) ??
  parts.find(isStopped) ??
  parts.find(isPrinting) ??
  parts.find(isRestWaiting) ??
  parts.find(isWaiting) ??
  parts[0];
