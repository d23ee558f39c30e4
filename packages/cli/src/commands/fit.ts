import { operationCommand } from '../operationCommand.ts';

export const fit = operationCommand('fit', { example: 'jasmorphe fit carnyx.stl --bed 220x220x250 --margin 5' });
