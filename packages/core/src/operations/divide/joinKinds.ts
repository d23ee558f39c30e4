/** What may hold two parts together at a cut. */
export const joinKinds = ['none', 'pin', 'dowel', 'key', 'magnet'] as const;
export type JoinKind = (typeof joinKinds)[number];
