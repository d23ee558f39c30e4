import { roughly, paramField, type Tool } from './Tool.ts';

export const foot: Tool<'foot'> = {
  id: 'foot',
  summary: 'Cut the bottom flat to stand on',
  question: 'How much shall come off the bottom?',
  lead: 'The lowest cut that gives most of the contact to be had low down is proposed.',
  fields: () => [paramField('foot', 'height', 'Cut off', { hint: 'Your own height' })],
  options: (body, v) => [
    { name: 'Proposed', params: {} },
    { name: '1 %', params: { height: roughly(body.mesh.facts.size.z * 0.01) } },
    { name: '5 %', params: { height: roughly(body.mesh.facts.size.z * 0.05) } },
    v.height
      ? { name: 'Yours', params: { height: v.height } }
      : { name: 'Yours', params: null, wants: 'Type a height below.' },
  ],
  advised: () => 0,
};
