import { operationCommand } from '../operationCommand.ts';

export const scan = operationCommand('scan', {
  example: 'jasmorphe scan clean.stl -o dirty.stl --severity 0.5 --seed 7',
});
