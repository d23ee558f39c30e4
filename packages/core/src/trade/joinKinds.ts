/** What may hold two parts together at a cut. */
export const joinKinds = [
  'none',
  'pin',
  'dowel',
  'key',
  'square',
  'tongue',
  'dovetail',
  'magnet',
  'bolt',
  'groove',
] as const;
export type JoinKind = (typeof joinKinds)[number];

/** What can be made. */
export type MadeKind = Exclude<JoinKind, 'none'>;

/** What each is called in the plural. */
export const joinNames: Record<JoinKind, string> = {
  none: 'glue alone',
  pin: 'pins',
  dowel: 'dowels',
  key: 'square keys',
  square: 'square dowels',
  tongue: 'tongues',
  dovetail: 'dovetails',
  magnet: 'magnets',
  bolt: 'bolts',
  groove: 'glue grooves',
};

/** Kinds that are placed one by one by hand. */
export const placedKinds = ['none', 'pin', 'dowel', 'key', 'square', 'magnet'] as const satisfies readonly JoinKind[];

/** Held together by loose things in holes on both sides. */
export const isLoose = (kind: JoinKind): boolean => kind === 'dowel' || kind === 'square' || kind === 'magnet';
/** Printed on one of the two parts, either of them. */
export const isPrintedOn = (kind: JoinKind): boolean => kind === 'pin' || kind === 'key';
