import { axes } from '@jasmorphe/core/mesh/axes';
import { vec3 } from '@jasmorphe/core/mesh/transform';
import { found, type Tool, type ToolOption } from './Tool.ts';

export const crop: Tool<'crop'> = {
  id: 'crop',
  summary: 'Take off the ground, strays, or all outside a box',
  question: 'What does not belong to the model?',
  lead: 'Cut edges stay open for Mend to close.',
  asksForPoint: true,
  fields: (body) => {
    const { min, max } = body.mesh.facts;
    return axes.flatMap((k) => [
      { id: `min${k}`, label: `Box from ${k}`, hint: 'Lower side of the box', value: min[k] },
      { id: `max${k}`, label: `Box to ${k}`, hint: 'Upper side of the box', value: max[k] },
    ]);
  },
  options: (body, v, bench): ToolOption<'crop'>[] => {
    const { min, max } = body.mesh.facts;
    const s = bench.section;
    const axis = axes[s?.axis ?? 0];
    // the bench keeps the far side along x and z, the near one along y
    const sign = s?.axis === 1 ? 1 : -1;
    const at = s ? min[axis] + s.share * (max[axis] - min[axis]) : 0;
    const moved = axes.some((k) => v[`min${k}`] !== min[k] || v[`max${k}`] !== max[k]);
    return [
      { name: 'Ground', params: { ground: true, keep: 'largest' } },
      { name: 'Strays', params: { keep: 'largest' } },
      bench.points.length > 0
        ? { name: 'Picked', params: { keep: 'picked', at: bench.points[0] } }
        : { name: 'Picked', params: null, wants: 'Click the piece to keep on the bench.' },
      moved
        ? {
            name: 'Box',
            params: { min: [v.minx!, v.miny!, v.minz!], max: [v.maxx!, v.maxy!, v.maxz!] },
          }
        : s
          ? {
              name: 'Section',
              params: { normal: [...vec3((k) => (k === s.axis ? sign : 0))], offset: sign * at },
            }
          : {
              name: 'Box',
              params: null,
              wants: 'Change a side of the box below, or turn the section on to cut there.',
            },
    ];
  },
  advised: (body) => (found(body, 'ground') ? 0 : 1),
};
