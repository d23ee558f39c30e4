import { figures } from '@jasmorphe/core/trade/figures';
import { roughly, roughText, paramField, type Tool } from './Tool.ts';

export const refine: Tool<'refine'> = {
  id: 'refine',
  summary: 'Round off the facets of a coarse sculpt, creases kept',
  question: 'How far may facets stand off the curve?',
  lead: 'Old corners stay where they are; flats and creases stay flat and sharp.',
  fields: () => [
    paramField('refine', 'crease', 'Creases from, °'),
    paramField('refine', 'tolerance', 'Tolerance', { hint: 'Your own', empty: true }),
  ],
  options: (_, v, _bench, say) => {
    const t = v.tolerance ?? figures.facetMm.value;
    return [t * 2, t, t / 2].map((x) => ({
      name: roughText(x, say),
      params: { tolerance: roughly(x), ...(v.crease ? { crease: v.crease } : {}) },
    }));
  },
  advised: () => 1,
};
