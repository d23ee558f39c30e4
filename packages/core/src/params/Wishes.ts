/** What a maker weighs a plan by: shares from 0, of no account, to 1, above all. */
export interface Wishes {
  parts: number;
  seam: number;
  support: number;
  time: number;
  /** parts in pairs where the model is mirrored; of no account if left out */
  symmetry?: number;
}

export const wishNames = ['parts', 'seam', 'support', 'time', 'symmetry'] as const satisfies readonly (keyof Wishes)[];
/** Those that plans weighed by an earlier version have, too. */
export const wishesNeeded = ['parts', 'seam', 'support', 'time'] as const satisfies readonly (keyof Wishes)[];
