import { operationCommand } from '../operationCommand.ts';

export const refine = operationCommand('refine', {
  example: 'jasmorphe refine coarse.obj -o smooth.stl --tolerance 0.05',
});
