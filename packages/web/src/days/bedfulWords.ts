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
