import type { Router } from 'express';
import { UploadOptions } from '@jasmorphe/contracts/requests';
import type { BodyView } from '@jasmorphe/contracts/views';
import { findingsOfBody } from '@jasmorphe/contracts/reading/findings';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { forbidsAltered, termsOf } from '@jasmorphe/core/trade/licences';
import { bedfulOfPlan, exportFile, exportPlaced, exportWithStruts } from '../files/exportFile.ts';
import { fileWordsOf } from '../files/fileWords.ts';
import { Refusal } from '../store/Refusal.ts';
import { toldOf } from '../http/told.ts';
import { check } from '../http/validate.ts';
import { fileNameOf, withUpload } from '../http/upload.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';
import type { Holds } from '../store/Bodies.ts';
import { liesOtherwise, mayLie } from '../store/lieStill.ts';
import { refuseLoss } from '../store/Stakes.ts';
import { disposition, noDerivatives } from './projects.ts';

const referenceNames = {
  head: 'a head',
  hand: 'a hand',
  standing: 'a person standing',
  seated: 'a person seated',
} as const;

export function bodyRoutes(services: Services): Router {
  const { library, queue, requests, events, options, benchTicks } = services;
  const { router, answer, send } = serving();
  /** @param final what only a redo comes back to is forgotten by it */
  const mayMove =
    (lose: boolean, final = false): Holds =>
    async (body, next) => {
      if ((await library.views.view(body.id)).busyJobId)
        throw new Refusal('state', 'busy', 'A job is still at work on this line.', 'Wait for it, or cancel it.');
      // a part is not turned under a print of it
      if (body.kind === 'part' && liesOtherwise(body, next)) await mayLie(library.views, body);
      if (!lose) refuseLoss(await library.stakes.ofMove(body, next, final));
    };
  const changed = async (id: string) => {
    const view = await library.views.view(id);
    events.send({ type: 'body', bodyId: id, projectId: view.projectId });
    if (view.kind === 'part') events.send({ type: 'body', bodyId: view.modelId, projectId: view.projectId });
    return view;
  };
  answer('GET /bodies/{id}', ({ path }) => library.views.view(path.id));
  answer('DELETE /bodies/{id}', async ({ path }) => {
    const body = await library.bodies.body(path.id);
    if (body.kind === 'model') await queue.removeModel(path.id);
    else await library.bodies.removeModel(path.id);
    events.send({ type: 'project', projectId: body.projectId });
  });
  answer('GET /bodies/{id}/findings', async ({ path, query: { stop } }) => {
    const findings = findingsOfBody(await library.views.view(path.id), stop ?? null);
    return findings.map((f) => ({ ...f, message: findingSentence(f) }));
  });
  answer('POST /bodies/{id}/imports', async ({ path, body: { objects } }) => {
    const { model, projectId } = await library.bodies.body(path.id);
    return requests.import({
      projectId,
      sourceHash: model.sourceHash,
      fileName: model.sourceName,
      licence: model.licence,
      params: { unit: 'auto' },
      objects,
    });
  });
  answer('POST /bodies/{id}/steps', async ({ path, body: { operation, params, dry, lose } }) => {
    const body = await library.bodies.body(path.id);
    return requests.step(body, { operation, params }, { dry, lose });
  });
  answer('PUT /bodies/{id}/steps/{index}', async ({ path, body: { params, dry, lose } }) => {
    const body = await library.bodies.body(path.id);
    return requests.edit(body, Number(path.index), params, { dry, lose });
  });
  send('POST /bodies/{id}/previews', async ({ path, body: { operation, params, after, ifKnown, page }, r }) => {
    const body = await library.bodies.body(path.id);
    const known = await requests.preview(body, { operation, params }, after ?? body.cursor, ifKnown);
    if (known === null) return void r.status(204).end();
    if ('report' in known) return void r.json(known);
    // one of a batch, or that a program asked for as well, is not the page's own
    if (page === undefined || known.batchId !== null) queue.watchers.keep(known.id);
    else queue.watchers.asked(page, known.id);
    r.status(202).json(known);
  });
  answer('POST /bodies/{id}/samples', async ({ path, body }) =>
    requests.sample(await library.bodies.body(path.id), (body ?? {}) as Record<string, unknown>),
  );
  answer('POST /bodies/{id}/references', async ({ path, body: { kind, measures, name } }) => {
    const body = await library.bodies.body(path.id);
    return requests.reference(body, name ?? referenceNames[kind], { kind, measures });
  });
  answer('POST /bodies/{id}/references/scan', async ({ path, q }) => {
    const body = await library.bodies.body(path.id);
    const limits = { limitBytes: options.uploadLimitBytes, most: 1 };
    return withUpload(q, services, limits, async ({ files: [file], fields, take }) => {
      const { unit } = check(UploadOptions, fields);
      await take(file);
      const fileName = fileNameOf(file);
      return requests.reference(body, fileName.slice(0, 80), { sourceHash: file.hash, fileName, unit });
    });
  });
  answer('PATCH /references/{id}', async ({ path, body }) => {
    const { id, modelId } = await library.references.reference(path.id);
    await library.references.change(id, body);
    return (await changed(modelId)).references.find((x) => x.id === id)!;
  });
  answer('DELETE /references/{id}', async ({ path }) => {
    const { id, modelId } = await library.references.reference(path.id);
    await library.references.remove(id);
    await changed(modelId);
  });
  for (const way of ['undo', 'redo'] as const)
    answer(`POST /bodies/{id}/${way}`, async ({ path, body: { lose } }) => {
      await library.bodies.move(path.id, way, mayMove(lose));
      return changed(path.id);
    });
  answer('POST /bodies/{id}/cursor', async ({ path, body: { cursor, lose } }) => {
    await library.bodies.moveCursor(path.id, cursor, mayMove(lose, true));
    return changed(path.id);
  });
  answer('POST /bodies/{id}/dismissals', async ({ path, body: { code, reason } }) => {
    // whoever knows it by its number in a list means the place that has that number now
    const found = findingsOfBody(await library.views.view(path.id), null).find((f) => f.code === code);
    await library.dismissals.add(path.id, found?.key ?? code, reason);
    return (await changed(path.id)).dismissals;
  });
  answer('DELETE /bodies/{id}/dismissals/{code}', async ({ path }) => {
    await library.dismissals.remove(path.id, path.code);
    await changed(path.id);
  });
  answer('PUT /bodies/{id}/joints/{key}', ({ path: { id, key }, query: { anyway, at }, q }) =>
    benchTicks.tick('joint', id, key, anyway === 'yes', toldOf(q, at)),
  );
  answer('PUT /bodies/{id}/tips/{key}', ({ path: { id, key }, query: { at }, q }) =>
    benchTicks.tick('tip', id, key, false, toldOf(q, at)),
  );
  for (const what of ['joint', 'tip'] as const)
    answer(`DELETE /bodies/{id}/${what}s/{key}`, async ({ path: { id, key }, q }) => {
      await benchTicks.untick(what, id, key, toldOf(q));
    });
  send('GET /bodies/{id}/bedfuls/{step}/{n}', async ({ path, query: { word }, r }) => {
    const view = await library.views.view(path.id);
    const { n, printer, placed } = await bedfulOfPlan(services, path.step, Number(path.n));
    const views = [
      ...(await library.views.viewsOf([...new Set(placed.map((p) => p.of?.model ?? view.id))])).values(),
    ].filter((v): v is BodyView => !(v instanceof Error));
    const work = await library.kits.work(view.projectId);
    const own = [view, ...views.filter((v) => v.id !== view.id)].filter((v) => forbidsAltered(termsOf(v, work)));
    if (own.length > 0 && word !== 'yes') throw noDerivatives(own.map((v) => v.name));
    const { name, type, bytes } = await exportPlaced(services, view.name, n, printer, placed, fileWordsOf(views, work));
    r.set({ 'Content-Type': type, 'Content-Disposition': disposition(name) });
    r.end(bytes);
  });
  send('GET /bodies/{id}/export', async ({ path, query: { format, what, pose, size, word, only, struts }, r }) => {
    const now = await library.views.view(path.id);
    const view = size === 'own' ? await library.views.beforeSizing(now) : now;
    const work = await library.kits.work(view.projectId);
    const terms = termsOf(view, work);
    const kept = forbidsAltered(terms) && (view.kind === 'part' || view.cursor > 1);
    if (kept && word !== 'yes') throw noDerivatives([view.kind === 'part' ? `part ${view.name}` : view.name]);
    const model = view.kind === 'part' ? await library.views.view(view.modelId) : view;
    const words = fileWordsOf([model], work);
    const { name, type, bytes } = struts
      ? await exportWithStruts(services, view, model, struts === 'part', words)
      : await exportFile(services, view, model, { format, what, pose, only: only?.split(','), words });
    // whoever comes upon the file later sees what it is
    const marked = kept ? name.replace(/(\.[^.]+)$/, '_altered-not-to-be-passed-on$1') : name;
    r.set({ 'Content-Type': type, 'Content-Disposition': disposition(marked) });
    r.end(bytes);
  });
  return router;
}
