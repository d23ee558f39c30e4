import type { ErrorBody } from '@jasmorphe/contracts/views';
import { errorWords, unforeseen } from '../store/errorWords.ts';
import { Refusal, type RefusalKind } from '../store/Refusal.ts';
import type { Trouble } from '../store/troubles.ts';

/** An error with the status and body that the API sends. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly hint = '',
    readonly field?: string,
  ) {
    super(message);
    this.name = 'ApiError';
  }
}

const statusOfRefusal: Record<RefusalKind, number> = { unknown: 404, state: 409, request: 400 };

const statusOf: Record<Trouble['code'], number> = {
  'disk-full': 507,
  'read-only': 507,
  'database-busy': 503,
  'database-damaged': 500,
  'database-newer': 500,
  'file-missing': 410,
  'file-damaged': 410,
};

/** The one error shape, whatever was thrown. */
export function errorBody(error: unknown): { status: number; body: ErrorBody } {
  if (error instanceof ApiError)
    return {
      status: error.status,
      body: { error: { code: error.code, message: error.message, hint: error.hint, field: error.field } },
    };
  const words = errorWords(error);
  if (words)
    return {
      // troubles of the store come out of worker threads as errors of meshes
      status: error instanceof Refusal ? statusOfRefusal[error.kind] : (statusOf[words.code as Trouble['code']] ?? 400),
      body: { error: words },
    };
  const known = error as { type?: string; status?: number };
  if (known?.type === 'entity.too.large')
    return {
      status: 413,
      body: {
        error: { code: 'too-large', message: 'The body is larger than 1 MB.', hint: 'Files go to the upload address.' },
      },
    };
  if (error instanceof URIError)
    return {
      status: 400,
      body: { error: { code: 'bad-address', message: 'The address is not well-formed.', hint: '' } },
    };
  if (known?.type === 'json.too.deep')
    return {
      status: 400,
      body: { error: { code: 'bad-json', message: 'The JSON is nested too deep.', hint: 'No request needs that.' } },
    };
  if (known?.status === 404)
    return { status: 404, body: { error: { code: 'not-found', message: 'There is no such file.', hint: '' } } };
  // what the parser of bodies refuses: broken JSON or compression, a wrong length, an unknown encoding
  if (known?.status !== undefined && known.status >= 400 && known.status < 500)
    return {
      status: known.status,
      body: {
        error: {
          code: known.type === 'entity.parse.failed' ? 'bad-json' : 'bad-request',
          message:
            known.type === 'entity.parse.failed' ? 'The body is not valid JSON.' : 'The request cannot be understood.',
          hint: 'Send application/json, plain or compressed as its headers say.',
        },
      },
    };
  return { status: 500, body: { error: unforeseen } };
}
