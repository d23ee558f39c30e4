import type { Router } from 'express';
import { pageIds, type SavePlace } from '@jasmorphe/contracts/requests';
import { mediaTypes } from '@jasmorphe/core/formats/exportFormats';
import { writeThreeMf } from '@jasmorphe/core/formats/threeMf';
import { fitGauge, gaugeSteps } from '@jasmorphe/core/operations/divide/fitGauge';
import type { SaveBody, SaveSpool } from '@jasmorphe/contracts/workshopRequests';
import { checkMeasures } from '@jasmorphe/core/reference/makeReference';
import { Refusal } from '../store/Refusal.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

const placeOf = ({ name, kind, ...sizes }: SavePlace) => {
  const [widthMm, depthMm, heightMm] = [sizes.widthMm ?? null, sizes.depthMm ?? null, sizes.heightMm ?? null];
  if (widthMm === null && depthMm === null && heightMm === null)
    throw new Refusal('request', 'bad-params', 'A place needs at least one size.', 'Give its height, say.', 'heightMm');
  return { name, kind, widthMm, depthMm, heightMm };
};

const spoolOf = ({ ended, openedOn, ...spool }: SaveSpool) => {
  if (spool.emptyG > spool.grossG)
    throw new Refusal('request', 'bad-params', 'Empty it cannot weigh more than full.', 'Weigh it again.', 'emptyG');
  return { ...spool, openedOn: openedOn || null, endedAt: ended ? new Date().toISOString() : null };
};

const bodyOf = ({ name, kind, measures }: SaveBody) => {
  // what no body is made of is refused now, and not when it is wanted
  checkMeasures(kind, measures);
  return { name, kind, measures };
};

/** Printers, materials, spools, places, bodies, settings, jobs. */
export function workshopRoutes({ library: { workshop }, queue }: Services): Router {
  const { router, answer, send } = serving();
  // pages that are open elsewhere offer what there is now
  router.use(/^\/(printers|materials|spools|saved-bodies|settings|places)\b/i, (q, r, next) => {
    if (q.method !== 'GET') r.on('finish', () => r.statusCode < 300 && queue.tell({ type: 'workshop' }));
    next();
  });
  send('GET /gauge', async ({ query: { steps }, r }) => {
    const mesh = await fitGauge(steps === undefined ? gaugeSteps : steps.split(',').map(Number));
    r.set({ 'Content-Type': mediaTypes['3mf'], 'Content-Disposition': 'attachment; filename="fit-gauge.3mf"' });
    r.end(writeThreeMf([{ name: 'fit gauge', mesh }], { title: 'Fit gauge' }));
  });
  answer('GET /printers', () => workshop.printers());
  answer('POST /printers', ({ body }) => workshop.addPrinter(body));
  answer('PUT /printers/{id}', ({ path, body }) => workshop.changePrinter(path.id, { profile: body }));
  answer('PATCH /printers/{id}', ({ path, body }) => workshop.changePrinter(path.id, { ...body }));
  answer('DELETE /printers/{id}', ({ path }) => workshop.removePrinter(path.id));
  answer('GET /materials', () => workshop.materials());
  answer('POST /materials', ({ body }) => workshop.addMaterial({ ...body }));
  answer('PUT /materials/{id}', ({ path, body }) => workshop.changeMaterial(path.id, { ...body }));
  answer('PATCH /materials/{id}', ({ path, body }) => workshop.retireMaterial(path.id, body.retired));
  answer('DELETE /materials/{id}', ({ path }) => workshop.removeMaterial(path.id));
  answer('GET /spools', () => workshop.spools());
  answer('POST /spools', ({ body }) => workshop.addSpool(spoolOf(body)));
  answer('PUT /spools/{id}', ({ path, body }) => workshop.changeSpool(path.id, spoolOf(body)));
  answer('DELETE /spools/{id}', ({ path }) => workshop.removeSpool(path.id));
  answer('POST /spools/{id}/entries', ({ path, body }) => workshop.addSpoolEntry(path.id, { ...body }));
  answer('GET /saved-bodies', () => workshop.savedBodies());
  answer('POST /saved-bodies', ({ body }) => workshop.addBody(bodyOf(body)));
  answer('PUT /saved-bodies/{id}', ({ path, body }) => workshop.changeBody(path.id, bodyOf(body)));
  answer('DELETE /saved-bodies/{id}', ({ path }) => workshop.removeBody(path.id));
  answer('GET /settings', () => workshop.settings());
  answer('PUT /settings', ({ body }) => workshop.changeSettings(body));
  answer('GET /places', () => workshop.places());
  answer('POST /places', ({ body }) => workshop.addPlace(placeOf(body)));
  answer('PUT /places/{id}', ({ path, body }) => workshop.changePlace(path.id, placeOf(body)));
  answer('DELETE /places/{id}', ({ path }) => workshop.removePlace(path.id));
  answer('PUT /pages/{id}/looks-at', async ({ path, body: { jobs } }) => {
    if (!pageIds.test(path.id)) throw Refusal.notFound('page', path.id);
    queue.watchers.look(path.id, jobs);
  });
  answer('GET /jobs', () => queue.list());
  answer('GET /jobs/{id}', ({ path }) => queue.get(path.id));
  answer('POST /jobs/{id}/cancel', ({ path }) => queue.cancel(path.id));
  return router;
}
