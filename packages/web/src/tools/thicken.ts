import { figures } from '@jasmorphe/core/trade/figures';
import { paramField, type Tool } from './Tool.ts';

export const thicken: Tool<'thicken'> = {
  id: 'thicken',
  summary: 'Grow walls that are too thin, and only those',
  question: 'Where shall thin walls grow?',
  lead: 'Walls thicker than the least keep every triangle. A wall with one open and one sheltered side can grow on either.',
  fields: () => [paramField('thicken', 'min', 'Least wall', { hint: figures.thinWallMm.reason })],
  options: (_, v) =>
    (
      [
        { name: 'Both sides', side: 'both' },
        { name: 'Outward', side: 'outward' },
        { name: 'Inward', side: 'inward' },
      ] as const
    ).map((o) => ({ name: o.name, params: { side: o.side, ...(v.min === null ? {} : { min: v.min }) } })),
  advised: () => 0,
};
