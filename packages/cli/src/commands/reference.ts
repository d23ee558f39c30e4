import { operationCommand } from '../operationCommand.ts';
import { outputOption } from '../options.ts';
import { measures } from '../values.ts';

/** `--measure`, for commands that take a body by its measures. */
export const measureOption = {
  flags: '--measure <name=mm>',
  help: 'a measure of it, such as girth=572; may be repeated',
  parse: measures,
};

export const reference = operationCommand<'reference', { measure?: Record<string, number> }>('reference', {
  output: outputOption('where to write; its ending picks the format'),
  options: [measureOption],
  params: ({ measure }) => (measure ? { measures: measure } : {}),
});
