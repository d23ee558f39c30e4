import { operationCommand } from '../operationCommand.ts';

export const measure = operationCommand('measure', {
  files: '<file>',
});
