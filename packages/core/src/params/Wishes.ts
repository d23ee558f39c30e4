/** What a maker weighs a plan by: shares from 0, of no account, to 1, above all. */
export interface Wishes {
  parts: number;
  seam: number;
  support: number;
  time: number;
}

export const wishNames = ['parts', 'seam', 'support', 'time'] as const satisfies readonly (keyof Wishes)[];
