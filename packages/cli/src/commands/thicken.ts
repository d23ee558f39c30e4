import { operationCommand } from '../operationCommand.ts';

export const thicken = operationCommand('thicken', {
  example: 'jasmorphe thicken mask.stl -o thicker.stl --min 1.2 --side outward',
});
