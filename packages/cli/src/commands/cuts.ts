import { bedOptions, paramsOfBeds, type BedOptions } from '../bedOptions.ts';
import { operationCommand } from '../operationCommand.ts';

export const cuts = operationCommand<'cuts', BedOptions>('cuts', {
  options: bedOptions,
  params: paramsOfBeds,
});
