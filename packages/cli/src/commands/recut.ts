import { operationCommand } from '../operationCommand.ts';

export const recut = operationCommand('recut', {
  example: 'jasmorphe recut B2.3mf -o rest.3mf --printed 47.3 --layer 0.2',
});
