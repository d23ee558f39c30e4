import { operationCommand } from '../operationCommand.ts';

export const simplify = operationCommand('simplify', {
  example: 'jasmorphe simplify scan.ply -o light.stl --tolerance 0.1',
});
