import type { Router } from 'express';
import { toldOf } from '../http/told.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

/** What happens at the printer to single parts. */
export function printRoutes({ partPrints }: Services): Router {
  const { router, answer } = serving();
  answer('GET /projects/{id}/log', ({ path }) => partPrints.log(path.id));
  answer('POST /projects/{id}/log', ({ path, body: { at, ...word }, q }) =>
    partPrints.say(path.id, word, toldOf(q, at)),
  );
  // undo and redo of what was said of a part at the printer; a recut is a step of its line
  for (const way of ['undo', 'redo'] as const)
    answer(`POST /bodies/{id}/print/${way}`, ({ path, body: { at }, q }) =>
      partPrints.move(path.id, way, toldOf(q, at)),
    );
  return router;
}
