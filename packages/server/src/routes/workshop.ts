import { Router, type Request, type Response } from 'express';
import { GaugeQuery, LookAt, pageIds, SavePlace } from '@jasmorphe/contracts/requests';
import { mediaTypes } from '@jasmorphe/core/formats/exportFormats';
import { writeThreeMf } from '@jasmorphe/core/formats/threeMf';
import { fitGauge, gaugeSteps } from '@jasmorphe/core/operations/divide/fitGauge';
import {
  AddSpoolEntry,
  Retire,
  SaveBody,
  SaveMaterial,
  SaveSpool,
  Settings,
} from '@jasmorphe/contracts/workshopRequests';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { checkMeasures } from '@jasmorphe/core/reference/makeReference';
import { Refusal } from '../store/Refusal.ts';
import { check } from '../http/validate.ts';
import type { Services } from '../Services.ts';

const placeOf = (body: unknown) => {
  const { name, kind, widthMm = null, depthMm = null, heightMm = null } = check(SavePlace, body);
  if (widthMm === null && depthMm === null && heightMm === null)
    throw new Refusal('request', 'bad-params', 'A place needs at least one size.', 'Give its height, say.', 'heightMm');
  return { name, kind, widthMm, depthMm, heightMm };
};

const spoolOf = (body: unknown) => {
  const { ended, openedOn, ...spool } = check(SaveSpool, body);
  if (spool.emptyG > spool.grossG)
    throw new Refusal('request', 'bad-params', 'Empty it cannot weigh more than full.', 'Weigh it again.', 'emptyG');
  return { ...spool, openedOn: openedOn || null, endedAt: ended ? new Date().toISOString() : null };
};

const bodyOf = (body: unknown) => {
  const { name, kind, measures } = check(SaveBody, body);
  // what no body is made of is refused now, and not when it is wanted
  checkMeasures(kind, measures);
  return { name, kind, measures };
};

/** Printers, materials, spools, places, bodies, settings, jobs. */
export function workshopRoutes({ library: { workshop }, queue }: Services): Router {
  const router = Router();
  // pages that are open elsewhere offer what there is now
  router.use(/^\/(printers|materials|spools|saved-bodies|settings|places)\b/i, (q, r, next) => {
    if (q.method !== 'GET') r.on('finish', () => r.statusCode < 300 && queue.tell({ type: 'workshop' }));
    next();
  });
  const gone = (work: (id: string) => Promise<void>) => async (q: Request<{ id: string }>, r: Response) => {
    await work(q.params.id);
    r.status(204).end();
  };
  router.get('/gauge', async (q, r) => {
    const { steps } = check(GaugeQuery, q.query);
    const mesh = await fitGauge(steps === undefined ? gaugeSteps : steps.split(',').map(Number));
    r.set({ 'Content-Type': mediaTypes['3mf'], 'Content-Disposition': 'attachment; filename="fit-gauge.3mf"' });
    r.end(writeThreeMf([{ name: 'fit gauge', mesh }], { title: 'Fit gauge' }));
  });
  router.get('/printers', async (_q, r) => void r.json(await workshop.printers()));
  router.post('/printers', async (q, r) => {
    r.status(201).json(await workshop.addPrinter(check(PrinterProfile, q.body)));
  });
  router.put('/printers/:id', async (q, r) => {
    r.json(await workshop.changePrinter(q.params.id, { profile: check(PrinterProfile, q.body) }));
  });
  router.patch('/printers/:id', async (q, r) => {
    r.json(await workshop.changePrinter(q.params.id, { ...check(Retire, q.body) }));
  });
  router.delete(
    '/printers/:id',
    gone((id) => workshop.removePrinter(id)),
  );
  router.get('/materials', async (_q, r) => void r.json(await workshop.materials()));
  router.post('/materials', async (q, r) => {
    r.status(201).json(await workshop.addMaterial({ ...check(SaveMaterial, q.body) }));
  });
  router.put('/materials/:id', async (q, r) => {
    r.json(await workshop.changeMaterial(q.params.id, { ...check(SaveMaterial, q.body) }));
  });
  router.patch('/materials/:id', async (q, r) => {
    r.json(await workshop.retireMaterial(q.params.id, check(Retire, q.body).retired));
  });
  router.delete(
    '/materials/:id',
    gone((id) => workshop.removeMaterial(id)),
  );
  router.get('/spools', async (_q, r) => void r.json(await workshop.spools()));
  router.post('/spools', async (q, r) => void r.status(201).json(await workshop.addSpool(spoolOf(q.body))));
  router.put('/spools/:id', async (q, r) => void r.json(await workshop.changeSpool(q.params.id, spoolOf(q.body))));
  router.delete(
    '/spools/:id',
    gone((id) => workshop.removeSpool(id)),
  );
  router.post('/spools/:id/entries', async (q, r) => {
    r.status(201).json(await workshop.addSpoolEntry(q.params.id, { ...check(AddSpoolEntry, q.body) }));
  });
  router.get('/saved-bodies', async (_q, r) => void r.json(await workshop.savedBodies()));
  router.post('/saved-bodies', async (q, r) => void r.status(201).json(await workshop.addBody(bodyOf(q.body))));
  router.put('/saved-bodies/:id', async (q, r) => void r.json(await workshop.changeBody(q.params.id, bodyOf(q.body))));
  router.delete(
    '/saved-bodies/:id',
    gone((id) => workshop.removeBody(id)),
  );
  router.get('/settings', async (_q, r) => void r.json(await workshop.settings()));
  router.put('/settings', async (q, r) => void r.json(await workshop.changeSettings(check(Settings, q.body))));
  router.get('/places', async (_q, r) => void r.json(await workshop.places()));
  router.post('/places', async (q, r) => void r.status(201).json(await workshop.addPlace(placeOf(q.body))));
  router.put('/places/:id', async (q, r) => void r.json(await workshop.changePlace(q.params.id, placeOf(q.body))));
  router.delete('/places/:id', async (q, r) => {
    await workshop.removePlace(q.params.id);
    r.status(204).end();
  });
  router.put('/pages/:id/looks-at', (q, r) => {
    const { jobs } = check(LookAt, q.body);
    if (!pageIds.test(q.params.id)) throw Refusal.notFound('page', q.params.id);
    queue.watchers.look(q.params.id, jobs);
    r.status(204).end();
  });
  router.get('/jobs', async (_q, r) => void r.json(await queue.list()));
  router.get('/jobs/:id', async (q, r) => void r.json(await queue.get(q.params.id)));
  router.post('/jobs/:id/cancel', async (q, r) => void r.json(await queue.cancel(q.params.id)));
  return router;
}
