import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { isToPrint } from '@jasmorphe/core/planning/printState';

/** The part that Lay out is about: the one picked, or else the first that is not laid yet. */
export const partToLay = ({ parts }: Pick<BodyView, 'parts'>, picked: string | null): PartView | undefined =>
  parts.find((p) => p.id === picked) ?? parts.find((p) => p.posed === null && isToPrint(p)) ?? parts[0];
