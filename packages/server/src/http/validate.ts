import { parseParams } from '@jasmorphe/core/operations/Operation';
import { ApiError } from './ApiError.ts';

/** The request's body or query as a checked object of the class; see `parseParams`. */
export function check<T extends object>(Type: new () => T, plain: unknown): T {
  if (plain === undefined || plain === null)
    throw new ApiError(400, 'bad-json', 'The request has no body.', 'Send application/json.');
  return parseParams(Type, plain);
}
