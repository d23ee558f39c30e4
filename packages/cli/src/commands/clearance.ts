import { operationCommand } from '../operationCommand.ts';
import { measureOption } from './reference.ts';

export const clearance = operationCommand<'clearance', { measure?: Record<string, number> }>('clearance', {
  files: '<piece> [scan]',
  options: [measureOption],
  params: ({ measure }) => (measure ? { measures: measure } : {}),
});
