/**
 * What a place asks of a model: to stand in it the way up it is (a room, a bench), to pass through an opening (a door), or
 * to lie in it any way (a car boot, a crate).
 */
export const placeKinds = ['stand', 'pass', 'lie'] as const;

export type PlaceKind = (typeof placeKinds)[number];

/** A named place with its sizes, mm; what is null sets no limit. */
export interface Place {
  name: string;
  kind: PlaceKind;
  widthMm: number | null;
  depthMm: number | null;
  heightMm: number | null;
}

/** Editable examples. Sizes are common practice for the small end of each. */
export const examplePlaces: Place[] = [
  { name: 'Workshop, floor to ceiling', kind: 'stand', widthMm: null, depthMm: null, heightMm: 2300 },
  { name: 'Bench under the shelf', kind: 'stand', widthMm: 1500, depthMm: 600, heightMm: 1150 },
  { name: 'Inner door', kind: 'pass', widthMm: 760, depthMm: null, heightMm: 1980 },
  { name: 'Hatchback, seats down', kind: 'lie', widthMm: 1000, depthMm: 1400, heightMm: 700 },
];
