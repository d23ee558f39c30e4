import type { RequestHandler } from 'express';
import { ApiError } from './ApiError.ts';

const local = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/**
 * Refuses requests that do not come from this server's own pages: a foreign Host (a name pointed at 127.0.0.1 by
 * somebody else), an Origin other than the very address asked (a page of another site, or of another program on this
 * machine), and whatever the browser itself says comes from another site. Opening a page by a link is let through.
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
  const { origin } = request.headers;
  const foreign = (who: string) =>
    new ApiError(403, 'foreign-origin', `Pages of ${who} may not use this server.`, 'Open Jasmorphe itself.');
  if (origin !== undefined && origin !== `http://${host}`) throw foreign(`"${origin.slice(0, 80)}"`);
  const site = request.headers['sec-fetch-site'];
  const opening = request.method === 'GET' && request.headers['sec-fetch-mode'] === 'navigate';
  if ((site === 'cross-site' || site === 'same-site') && !(opening && !/^\/api(\/|$)/i.test(request.path)))
    throw foreign('other sites');
  next();
};
