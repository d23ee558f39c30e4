/** What a choice of bedfuls is to be best at. */
export const bedfulAims = ['fewest', 'soonest', 'least-lost'] as const;
export type BedfulAim = (typeof bedfulAims)[number];

/** What each is called. */
export const bedfulAimNames: Record<BedfulAim, string> = {
  fewest: 'Fewest',
  soonest: 'Soonest',
  'least-lost': 'Least lost',
};

/** How parts may be turned about the vertical. */
export const turnRules = ['any', 'quarter', 'none'] as const;
export type TurnRule = (typeof turnRules)[number];

export const turnRuleNames: Record<TurnRule, string> = {
  any: 'any way',
  quarter: 'by quarters',
  none: 'not at all',
};
