/** What may hold two parts together at a cut. */
export const joinKinds = ['none', 'pin', 'dowel', 'key', 'magnet'] as const;
export type JoinKind = (typeof joinKinds)[number];

/** What each is called in the plural. */
export const joinNames: Record<JoinKind, string> = {
  none: 'glue alone',
  pin: 'pins',
  dowel: 'dowels',
  key: 'square keys',
  magnet: 'magnets',
};
