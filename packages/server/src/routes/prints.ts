import { Router } from 'express';
import { CreateLogEntry, SaidWhen } from '@jasmorphe/contracts/requests';
import { toldOf } from '../http/told.ts';
import { check } from '../http/validate.ts';
import type { Services } from '../Services.ts';

/** What happens at the printer to single parts. */
export function printRoutes({ partPrints }: Services): Router {
  const router = Router();
  router.get('/projects/:id/log', async (q, r) => void r.json(await partPrints.log(q.params.id)));
  router.post('/projects/:id/log', async (q, r) => {
    const { at, ...word } = check(CreateLogEntry, q.body);
    r.status(201).json(await partPrints.say(q.params.id, word, toldOf(q, at)));
  });
  // undo and redo of what was said of a part at the printer; a recut is a step of its line
  for (const way of ['undo', 'redo'] as const)
    router.post(`/bodies/:id/print/${way}`, async (q, r) => {
      const { at } = check(SaidWhen, q.body ?? {});
      r.json(await partPrints.move(q.params.id, way, toldOf(q, at)));
    });
  return router;
}
