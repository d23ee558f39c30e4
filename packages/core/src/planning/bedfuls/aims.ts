/** What a choice of bedfuls is to be best at. */
export const bedfulAims = ['fewest', 'soonest', 'least-lost'] as const;
export type BedfulAim = (typeof bedfulAims)[number];

/** What each is called. */
export const bedfulAimNames: Record<BedfulAim, string> = {
  fewest: 'Fewest',
  soonest: 'Soonest',
  'least-lost': 'Least lost',
};
