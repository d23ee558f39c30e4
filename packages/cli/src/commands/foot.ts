import { operationCommand } from '../operationCommand.ts';

export const foot = operationCommand('foot', { example: 'jasmorphe foot ammonite.stl -o standing.stl --height 2' });
