import type { ErrorBody } from '@jasmorphe/contracts/views';
import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import { Refusal } from './Refusal.ts';
import { troubleOf } from './troubles.ts';

/** What is said of an error that nobody foresaw. */
export const unforeseen: ErrorBody['error'] = {
  code: 'internal',
  message: 'Something went wrong in the server. Nothing was changed.',
  hint: 'The server log has the details.',
};

/** The words of an error that the program itself makes: a refusal, trouble with a mesh, with the disk or the database; null for any other. */
export function errorWords(error: unknown): ErrorBody['error'] | null {
  if (error instanceof Refusal || isMeshError(error)) {
    const { code, message, hint, field } = error;
    return { code, message, hint, field };
  }
  const trouble = troubleOf(error);
  return trouble && { code: trouble.code, message: trouble.message, hint: trouble.hint };
}

/** The words of an error as one of the core, for those who ask the store without a server. */
export function asMeshTrouble(error: unknown): unknown {
  return error instanceof Refusal ? new MeshError('cannot', error.message, error.hint) : error;
}
