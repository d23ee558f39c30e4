import type { RequestHandler } from 'express';
import { errorBody, ApiError } from './ApiError.ts';

/**
 * Ends requests of which nothing comes any more. However long one takes that comes on is no reason to end it: a large file over
 * a slow line.
 *
 * @param silenceMs how long nothing may come
 */
export const endSilence =
  (silenceMs: number): RequestHandler =>
  (request, response, next) => {
    if (request.headers['content-length'] === undefined && request.headers['transfer-encoding'] === undefined)
      return next();
    const { socket } = request;
    let heard = socket.bytesRead;
    const timer = setInterval(() => {
      if (request.complete || request.destroyed) return clearInterval(timer);
      if (socket.bytesRead !== heard) {
        heard = socket.bytesRead;
        return;
      }
      clearInterval(timer);
      const { status, body } = errorBody(
        new ApiError(
          408,
          'cut-off',
          `Nothing has come for ${Math.round(silenceMs / 1000)} s, and the request is not whole.`,
          'Nothing was kept. Send it again.',
        ),
      );
      const end = (): void => void request.destroy();
      if (response.headersSent) return end();
      response.once('finish', end);
      response.status(status).set('Connection', 'close').json(body);
    }, silenceMs);
    timer.unref();
    for (const event of ['end', 'close'] as const) request.once(event, () => clearInterval(timer));
    next();
  };
