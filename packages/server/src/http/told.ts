import type { Request } from 'express';
import type { Told } from '../store/Answers.ts';
import { ApiError } from './ApiError.ts';

/** The header by which a word is known when it is sent again (IETF draft "The Idempotency-Key HTTP Header Field"). */
export const keyHeader = 'Idempotency-Key';

/**
 * When something happened, as a request says it, and the key that it comes with.
 *
 * @throws ApiError `bad-params` where the key is none: 8 to 120 printable characters, in quotes or not
 */
export function toldOf(q: Request<object>, at?: string): Told {
  const given = q.get(keyHeader);
  if (given === undefined) return { at };
  const key = given.replace(/^"(.*)"$/, '$1');
  if (!/^[\x21-\x7e]{8,120}$/.test(key))
    throw new ApiError(
      400,
      'bad-params',
      'The key of a word is 8 to 120 printable characters without spaces.',
      'Send a random one, and the same one again when you send the same word again.',
      keyHeader,
    );
  return { at, key };
}
