import { operationCommand } from '../operationCommand.ts';

export const sample = operationCommand('sample', { example: 'jasmorphe sample mask.stl -o test.stl --largest 40' });
