import { diagonalOf, roughly, roughText, paramField, type Tool } from './Tool.ts';

export const simplify: Tool<'simplify'> = {
  id: 'simplify',
  summary: 'Take triangles out of a heavy scan where they tell nothing',
  question: 'How far may the skin move?',
  lead: 'Fewer triangles make every later step quicker. What moves is measured both ways.',
  fields: () => [paramField('simplify', 'tolerance', 'Tolerance', { hint: 'Your own' })],
  options: (body, v, _bench, say) => {
    const t = v.tolerance ?? diagonalOf(body) / 5000;
    return [t / 3, t, t * 3].map((x) => ({ name: roughText(x, say), params: { tolerance: roughly(x) } }));
  },
  advised: () => 1,
};
