/** What a kind of join is called, and what the maker may ask of it. */
interface JoinWords {
  /** one, and several: `pin`, `pins` */
  one: string;
  several: string;
  /** may be placed one by one by hand */
  byHand?: true;
  /** what to mind where parts that it holds are put together; {sizes} are counted, such as `2 of 6 x 11.8` */
  advice?: string;
  /** holds without glue */
  dry?: true;
}

const bound = 'What binds is sanded, not forced: a pin that breaks off stays in its hole.';

/** What may hold two parts together at a cut, in the order in which it is offered. */
export const joinWords = {
  none: { one: 'glue alone', several: 'glue alone', byHand: true },
  pin: { one: 'pin', several: 'pins', byHand: true, advice: bound },
  dowel: {
    one: 'dowel',
    several: 'dowels',
    byHand: true,
    advice: 'Dowels: {sizes} mm, glued into one side first.',
  },
  key: { one: 'square key', several: 'square keys', byHand: true, advice: bound },
  square: {
    one: 'square dowel',
    several: 'square dowels',
    byHand: true,
    advice: 'Square dowels: {sizes} mm, glued into one side first.',
  },
  tongue: { one: 'tongue', several: 'tongues', advice: bound },
  dovetail: {
    one: 'dovetail',
    several: 'dovetails',
    advice: 'It slides on along the face; glued, it cannot be lifted off again.',
  },
  magnet: {
    one: 'magnet',
    several: 'magnets',
    byHand: true,
    advice: 'Magnets: {sizes} mm. Letters in the pockets say which pole is seen; try them before gluing.',
  },
  bolt: {
    one: 'bolt',
    several: 'bolts',
    dry: true,
    advice: 'Bolts: {sizes}. Let the nuts in and slide them under their lip before the faces meet; no glue.',
  },
  groove: {
    one: 'glue groove',
    several: 'glue grooves',
    advice: 'The groove takes what is squeezed out: keep glue off the rim.',
  },
} as const satisfies Record<string, JoinWords>;

export type JoinKind = keyof typeof joinWords;

/** What can be made. */
export type MadeKind = Exclude<JoinKind, 'none'>;

export const joinKinds = Object.keys(joinWords) as JoinKind[];

export const wordsOfJoin = (kind: JoinKind): JoinWords => joinWords[kind];

/** Is it placed one by one by hand? */
export const isPlacedByHand = (kind: JoinKind): boolean => wordsOfJoin(kind).byHand === true;

/** Kinds that are placed one by one by hand. */
export const placedKinds = joinKinds.filter(isPlacedByHand);

/** Things for joins that are printed apart; others are bought. */
export const printedApart: readonly string[] = ['dowel', 'square', 'tongue'];
