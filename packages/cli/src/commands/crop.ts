import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { operationCommand } from '../operationCommand.ts';
import { numbers } from '../values.ts';

export const crop = operationCommand<'crop', { box?: number[]; plane?: number[] }>('crop', {
  options: [
    { flags: '--box <x0,y0,z0,x1,y1,z1>', help: 'keep what lies in this box', parse: numbers(6) },
    { flags: '--plane <x,y,z,offset>', help: 'keep what lies on the side of this normal', parse: numbers(4) },
  ],
  params: ({ box, plane }, { keep, at }) => ({
    ...(box && { min: box.slice(0, 3) as Triple, max: box.slice(3) as Triple }),
    ...(plane && { normal: plane.slice(0, 3) as Triple, offset: plane[3] }),
    ...(at && { keep: keep ?? 'picked' }),
  }),
});
