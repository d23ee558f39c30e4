import { paramField, type Tool } from './Tool.ts';

export const mirror: Tool<'mirror'> = {
  id: 'mirror',
  summary: 'Make a whole of half a model, its seam welded',
  question: 'Across which seam shall the half be mirrored?',
  lead: 'The seam is found from the open edges, or lies where you say.',
  fields: () => [
    { id: 'at', label: 'Seam at', hint: 'Along the axis; found if left empty', value: null },
    paramField('mirror', 'weld', 'Weld within'),
  ],
  options: (_, v) => [
    { name: 'As found', params: { ...(v.weld ? { weld: v.weld } : {}) } },
    ...(['x', 'y', 'z'] as const).map((axis) => ({
      name: axis,
      params: { axis, ...(v.at === null ? {} : { at: v.at }), ...(v.weld ? { weld: v.weld } : {}) },
    })),
  ],
  advised: () => 0,
};
