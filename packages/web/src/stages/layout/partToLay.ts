import type { BodyView, PartView } from '@jasmorphe/contracts/views';

/** The part that Lay out is about: the one picked, or else the first that is not laid yet. */
export const partToLay = ({ parts }: Pick<BodyView, 'parts'>, picked: string | null): PartView | undefined =>
  parts.find((p) => p.id === picked) ??
  parts.find((p) => p.posed === null && p.state !== 'printed' && p.state !== 'aside') ??
  parts[0];
