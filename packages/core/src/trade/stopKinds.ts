import { whole, type Speaker } from '../words/numbers.ts';

/** Why a print stops: for another colour, to put something in, or for anything else. */
export const stopKinds = ['colour', 'insert', 'other'] as const;
export type StopKind = (typeof stopKinds)[number];

/** Why a stop comes to nothing: it would be before the first layer, above the part, in no hollow, or in one that stays open. */
export type StopTrouble = 'before-first' | 'above' | 'no-hollow' | 'stays-open' | 'no-place';

const kindWords: Record<StopKind, string> = { colour: 'another colour', insert: 'put something in', other: 'stop' };

const troubleWords: Record<StopTrouble, string> = {
  'before-first': 'before the first layer is laid',
  above: 'above the part',
  'no-hollow': 'no hollow is there',
  'stays-open': 'nothing closes over it: it goes in afterwards',
  'no-place': 'neither a height nor a place is said',
};

/** What a stop is for: "another colour, brass". */
export const stopText = ({ what, words }: { what: StopKind; words: string }): string =>
  words === '' ? kindWords[what] : what === 'other' ? words : `${kindWords[what]}, ${words}`;

/** Why a stop comes to nothing; empty where it does not. */
export const stopTroubleText = (trouble: StopTrouble | null): string => (trouble === null ? '' : troubleWords[trouble]);

/** When a stop is and what is done then: "after layer 63, 12.6 mm up: another colour, brass". */
export const stopLine = (
  { afterLayer, atMm }: { afterLayer: number; atMm: number },
  says: string,
  { length }: Speaker,
): string => `after layer ${whole(afterLayer + 1)}, ${length(atMm)} up: ${says}`;
