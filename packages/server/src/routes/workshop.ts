import { Router } from 'express';
import { CreateMaterial, SavePlace } from '@jasmorphe/contracts/requests';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { ApiError } from '../http/ApiError.ts';
import { check } from '../http/validate.ts';
import type { Services } from '../Services.ts';

const placeOf = (body: unknown) => {
  const { name, kind, widthMm = null, depthMm = null, heightMm = null } = check(SavePlace, body);
  if (widthMm === null && depthMm === null && heightMm === null)
    throw new ApiError(400, 'bad-params', 'A place needs at least one size.', 'Give its height, say.', 'heightMm');
  return { name, kind, widthMm, depthMm, heightMm };
};

/** Printers, materials, places, jobs. */
export function workshopRoutes({ library: { workshop }, queue }: Services): Router {
  const router = Router();
  router.get('/printers', async (_q, r) => void r.json(await workshop.printers()));
  router.post('/printers', async (q, r) => {
    r.status(201).json(await workshop.addPrinter(check(PrinterProfile, q.body)));
  });
  router.delete('/printers/:id', async (q, r) => {
    await workshop.removePrinter(q.params.id);
    r.status(204).end();
  });
  router.get('/materials', async (_q, r) => void r.json(await workshop.materials()));
  router.post('/materials', async (q, r) => {
    r.status(201).json(await workshop.addMaterial({ ...check(CreateMaterial, q.body) }));
  });
  router.delete('/materials/:id', async (q, r) => {
    await workshop.removeMaterial(q.params.id);
    r.status(204).end();
  });
  router.get('/places', async (_q, r) => void r.json(await workshop.places()));
  router.post('/places', async (q, r) => void r.status(201).json(await workshop.addPlace(placeOf(q.body))));
  router.put('/places/:id', async (q, r) => void r.json(await workshop.changePlace(q.params.id, placeOf(q.body))));
  router.delete('/places/:id', async (q, r) => {
    await workshop.removePlace(q.params.id);
    r.status(204).end();
  });
  router.get('/jobs', async (_q, r) => void r.json(await queue.list()));
  router.get('/jobs/:id', async (q, r) => void r.json(await queue.get(q.params.id)));
  router.post('/jobs/:id/cancel', async (q, r) => void r.json(await queue.cancel(q.params.id)));
  return router;
}
