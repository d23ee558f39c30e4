import { axes, type Axis } from '@jasmorphe/core/mesh/axes';
import { operationCommand } from '../operationCommand.ts';
import { axisValue, readings } from '../values.ts';

interface SizeOptions {
  to?: { axis: Axis; mm: number };
  along?: Axis;
  reading?: { measured: number; real: number }[];
}

export const size = operationCommand<'size', SizeOptions>('size', {
  options: [
    { flags: '--to <axis=mm>', help: 'to this size along an axis', parse: axisValue },
    {
      flags: '--reading <mm=mm>',
      help: 'a length on the model and its true length; repeat it to average several',
      parse: readings,
    },
    { flags: '--along <axis>', help: 'side that the original length is of', choices: axes },
  ],
  params: ({ to, along, reading }) => ({ axis: to?.axis ?? along, to: to?.mm, readings: reading }),
});
