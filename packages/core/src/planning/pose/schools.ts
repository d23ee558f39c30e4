/** Ways to lay a part, by what makers call them; `best` takes whatever costs least in all. */
export const schools = ['best', 'flat', 'lean', 'low', 'stand'] as const;
export type School = (typeof schools)[number];

/** A school, or the maker's own way. */
export type PoseName = School | 'own';

/** What each is called. */
export const schoolNames: Record<PoseName, string> = {
  best: 'Best found',
  flat: 'Flat down',
  lean: 'Lean back',
  low: 'Lie low',
  stand: 'Stand',
  own: 'By hand',
};

/** The same as a word beside a part: how it lies. */
export const liesHow: Record<PoseName, string> = {
  best: 'as best',
  flat: 'flat',
  lean: 'leans',
  low: 'low',
  stand: 'stands',
  own: 'by hand',
};
