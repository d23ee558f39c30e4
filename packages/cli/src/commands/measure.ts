import { operationCommand } from '../operationCommand.ts';

export const measure = operationCommand('measure', {
  example: 'jasmorphe measure mask.stl --at 0,0,0 --at 42,0,12',
  files: '<file>',
});
