import type { BedfulView, PartTrouble } from '@jasmorphe/contracts/dayViews';

/** What became of a part of a bedful that waits, after its tag. */
export const troubleText: Record<PartTrouble, string> = {
  gone: 'is there no more',
  changed: 'was changed since',
  relaid: 'was laid otherwise since',
  printing: 'is on a bed by itself',
  printed: 'is printed already',
  failed: 'stopped',
  aside: 'was set aside',
};

/** Does a bedful hold parts of several models? */
export const isShared = ({ parts }: Pick<BedfulView, 'parts'>): boolean =>
  parts.some((p) => p.modelId !== parts[0].modelId);

/** Tags of parts are no longer than this, such as B12r1; names of models may be. */
const longestTag = 5;

/** What lies on a bed, in the order in which it is printed where it is printed one after the other. */
export function tagsText({ parts, inTurn }: { parts: readonly { tag: string }[]; inTurn: boolean }): string {
  const named = parts.some((p) => p.tag.length > longestTag);
  return parts.map((p) => p.tag).join(inTurn ? ' → ' : named ? ', ' : ' ');
}
