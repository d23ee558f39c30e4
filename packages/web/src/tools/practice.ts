import { paramField, type Tool } from './Tool.ts';

export const practice: Tool<'practice'> = {
  id: 'practice',
  summary: 'Make a dirty scan of a clean model, to practise mending on',
  question: 'How bad shall the scan be?',
  lead: 'Noise, holes where a camera does not see, crumbs, ground, triangles turned round. Undo brings the model back.',
  fields: () => [paramField('practice', 'seed', 'Seed')],
  options: (_, v) =>
    [
      { name: 'Careful', severity: 0.15 },
      { name: 'Usual', severity: 0.5 },
      { name: 'Hopeless', severity: 1 },
    ].map((o) => ({ name: o.name, params: { severity: o.severity, seed: v.seed ?? 1 } })),
  advised: () => 1,
};
