import type { RequestHandler } from 'express';
import { ApiError } from './ApiError.ts';

const local = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/**
 * Refuses requests that do not come from this machine's own pages: a foreign Host (a name pointed at 127.0.0.1 by
 * somebody else) or a foreign Origin (another site's page).
 */
export const localOnly: RequestHandler = (request, _response, next) => {
  const host = request.headers.host ?? '';
  if (!local.test(host))
    throw new ApiError(
      403,
      'foreign-host',
      `This server does not answer for "${host.slice(0, 80)}".`,
      'Open it as 127.0.0.1 or localhost.',
    );
  const origin = request.headers.origin;
  if (origin !== undefined && !local.test(origin.replace(/^https?:\/\//, '')))
    throw new ApiError(
      403,
      'foreign-origin',
      `Pages of "${origin.slice(0, 80)}" may not use this server.`,
      'Open Jasmorphe itself.',
    );
  next();
};
