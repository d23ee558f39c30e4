import { parseParams } from '@jasmorphe/core/params/parseParams';
import { ApiError } from './ApiError.ts';

/** Deepest nesting of JSON that any request needs, with room to spare. */
const mostLevels = 32;

/** Refuses JSON that is nested so deep that walking it would exhaust the stack. */
export function refuseDeepJson(_q: unknown, _r: unknown, bytes: Buffer): void {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < bytes.length; i++) {
    const c = bytes[i];
    if (quoted) {
      if (c === 0x5c) i++;
      else if (c === 0x22) quoted = false;
    } else if (c === 0x22) quoted = true;
    else if (c === 0x5b || c === 0x7b) {
      if (++depth > mostLevels)
        // the parser of bodies hands on the type, and puts a status of its own over any other error's
        throw Object.assign(new Error(`nested more than ${mostLevels} levels deep`), { type: 'json.too.deep' });
    } else if (c === 0x5d || c === 0x7d) depth--;
  }
}

/** The request's body or query as a checked object of the class; see `parseParams`. */
export function check<T extends object>(Type: new () => T, plain: unknown): T {
  if (plain === undefined || plain === null)
    throw new ApiError(400, 'bad-json', 'The request has no body.', 'Send application/json.');
  return parseParams(Type, plain);
}
