import type { Axis } from '@jasmorphe/core/mesh/axes';
import { operationCommand } from '../operationCommand.ts';
import { axisValue } from '../values.ts';

export const mirror = operationCommand<'mirror', { at?: { axis: Axis; mm: number } }>('mirror', {
  options: [
    { flags: '--at <axis=mm>', help: 'where the seam lies; found from the open edges if left out', parse: axisValue },
  ],
  params: ({ at }) => (at ? { axis: at.axis, at: at.mm } : {}),
});
