import type { ErrorBody } from '@jasmorphe/contracts/views';
import { isMeshError } from '@jasmorphe/core/mesh/MeshError';

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

  static notFound(what: string, id: string): ApiError {
    return new ApiError(
      404,
      'not-found',
      `There is no ${what} "${id.slice(0, 80)}".`,
      'It may have been removed. Go back to the shelf.',
    );
  }
}

/** The one error shape, whatever was thrown. */
export function errorBody(error: unknown): { status: number; body: ErrorBody } {
  if (error instanceof ApiError)
    return {
      status: error.status,
      body: { error: { code: error.code, message: error.message, hint: error.hint, field: error.field } },
    };
  if (isMeshError(error))
    return {
      status: 400,
      body: { error: { code: error.code, message: error.message, hint: error.hint, field: error.field } },
    };
  const known = error as { type?: string; status?: number };
  if (known?.type === 'entity.parse.failed')
    return {
      status: 400,
      body: { error: { code: 'bad-json', message: 'The body is not valid JSON.', hint: 'Send application/json.' } },
    };
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
  return {
    status: 500,
    body: {
      error: {
        code: 'internal',
        message: 'Something went wrong in the server. Nothing was changed.',
        hint: 'The server log has the details.',
      },
    },
  };
}
