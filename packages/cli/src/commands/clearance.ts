import { operationCommand } from '../operationCommand.ts';
import { measureOption } from './reference.ts';

export const clearance = operationCommand<'clearance', { measure?: Record<string, number> }>('clearance', {
  example: 'jasmorphe clearance mask.stl --kind head --seat --lining 8',
  files: '<piece> [scan]',
  options: [measureOption],
  params: ({ measure }) => (measure ? { measures: measure } : {}),
});
