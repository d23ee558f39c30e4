import { operationCommand } from '../operationCommand.ts';

export const mend = operationCommand('mend', { example: 'jasmorphe mend scan.stl -o mended.stl --close-gaps 0.3' });
