import { Router } from 'express';
import { DismissFinding } from '@jasmorphe/contracts/findingRequests';
import {
  ChangeReference,
  CreateReference,
  EditStep,
  ExportQuery,
  FindingsQuery,
  ImportAgain,
  MoveCursor,
  MoveLine,
  PreviewOperation,
  RunOperation,
  TickQuery,
  UploadOptions,
} from '@jasmorphe/contracts/requests';
import type { BodyView } from '@jasmorphe/contracts/views';
import { findingsOfBody } from '@jasmorphe/contracts/reading/findings';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { nameNow } from '@jasmorphe/core/operations/catalogue';
import { forbidsAltered, termsOf } from '@jasmorphe/core/trade/licences';
import { bedfulOfPlan, exportFile, exportPlaced, exportWithStruts } from '../files/exportFile.ts';
import { fileWordsOf } from '../files/fileWords.ts';
import { Refusal } from '../store/Refusal.ts';
import { toldOf } from '../http/told.ts';
import { check } from '../http/validate.ts';
import { fileNameOf, withUpload } from '../http/upload.ts';
import type { Services } from '../Services.ts';
import type { Holds } from '../store/Bodies.ts';
import { liesOtherwise, mayLie } from '../store/lieStill.ts';
import { refuseLoss } from '../store/Stakes.ts';
import { disposition, noDerivatives } from './projects.ts';

/** A request by the name that an operation has now. */
const named = (body: unknown): unknown =>
  typeof body === 'object' && body !== null && 'operation' in body
    ? { ...body, operation: nameNow(body.operation) }
    : body;

const referenceNames = {
  head: 'a head',
  hand: 'a hand',
  standing: 'a person standing',
  seated: 'a person seated',
} as const;

export function bodyRoutes(services: Services): Router {
  const { library, queue, requests, events, options, benchTicks } = services;
  const router = Router();
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
  router.get('/bodies/:id', async (q, r) => void r.json(await library.views.view(q.params.id)));
  router.delete('/bodies/:id', async (q, r) => {
    const body = await library.bodies.body(q.params.id);
    if (body.kind === 'model') await queue.removeModel(q.params.id);
    else await library.bodies.removeModel(q.params.id);
    events.send({ type: 'project', projectId: body.projectId });
    r.status(204).end();
  });
  router.get('/bodies/:id/findings', async (q, r) => {
    const { stop } = check(FindingsQuery, q.query);
    const findings = findingsOfBody(await library.views.view(q.params.id), stop ?? null);
    r.json(findings.map((f) => ({ ...f, message: findingSentence(f) })));
  });
  router.post('/bodies/:id/imports', async (q, r) => {
    const { objects } = check(ImportAgain, q.body);
    const { model, projectId } = await library.bodies.body(q.params.id);
    r.status(202).json(
      await requests.import({
        projectId,
        sourceHash: model.sourceHash,
        fileName: model.sourceName,
        licence: model.licence,
        params: { unit: 'auto' },
        objects,
      }),
    );
  });
  router.post('/bodies/:id/steps', async (q, r) => {
    const { operation, params, dry, lose } = check(RunOperation, named(q.body));
    const body = await library.bodies.body(q.params.id);
    r.status(202).json(await requests.step(body, { operation, params }, { dry, lose }));
  });
  router.put('/bodies/:id/steps/:index', async (q, r) => {
    const { params, dry, lose } = check(EditStep, q.body);
    const body = await library.bodies.body(q.params.id);
    r.status(202).json(await requests.edit(body, Number(q.params.index), params, { dry, lose }));
  });
  router.post('/bodies/:id/previews', async (q, r) => {
    const { operation, params, after, ifKnown, page } = check(PreviewOperation, named(q.body));
    const body = await library.bodies.body(q.params.id);
    const answer = await requests.preview(body, { operation, params }, after ?? body.cursor, ifKnown);
    if (answer === null) return void r.status(204).end();
    if ('report' in answer) return void r.json(answer);
    // one of a batch, or that a program asked for as well, is not the page's own
    if (page === undefined || answer.batchId !== null) queue.watchers.keep(answer.id);
    else queue.watchers.asked(page, answer.id);
    r.status(202).json(answer);
  });
  router.post('/bodies/:id/samples', async (q, r) => {
    r.status(202).json(
      await requests.sample(await library.bodies.body(q.params.id), (q.body ?? {}) as Record<string, unknown>),
    );
  });
  router.post('/bodies/:id/references', async (q, r) => {
    const { kind, measures, name } = check(CreateReference, q.body);
    const body = await library.bodies.body(q.params.id);
    r.status(202).json(await requests.reference(body, name ?? referenceNames[kind], { kind, measures }));
  });
  router.post('/bodies/:id/references/scan', async (q, r) => {
    const body = await library.bodies.body(q.params.id);
    const limits = { limitBytes: options.uploadLimitBytes, most: 1 };
    const job = await withUpload(q, services, limits, async ({ files: [file], fields, take }) => {
      const { unit } = check(UploadOptions, fields);
      await take(file);
      const fileName = fileNameOf(file);
      return requests.reference(body, fileName.slice(0, 80), { sourceHash: file.hash, fileName, unit });
    });
    r.status(202).json(job);
  });
  router.patch('/references/:id', async (q, r) => {
    const change = check(ChangeReference, q.body);
    const { id, modelId } = await library.references.reference(q.params.id);
    await library.references.change(id, change);
    r.json((await changed(modelId)).references.find((x) => x.id === id));
  });
  router.delete('/references/:id', async (q, r) => {
    const { id, modelId } = await library.references.reference(q.params.id);
    await library.references.remove(id);
    await changed(modelId);
    r.status(204).end();
  });
  for (const way of ['undo', 'redo'] as const)
    router.post(`/bodies/:id/${way}`, async (q, r) => {
      const { lose } = check(MoveLine, q.body ?? {});
      await library.bodies.move(q.params.id, way, mayMove(lose));
      r.json(await changed(q.params.id));
    });
  router.post('/bodies/:id/cursor', async (q, r) => {
    const { cursor, lose } = check(MoveCursor, q.body);
    await library.bodies.moveCursor(q.params.id, cursor, mayMove(lose, true));
    r.json(await changed(q.params.id));
  });
  router.post('/bodies/:id/dismissals', async (q, r) => {
    const { code, reason } = check(DismissFinding, q.body);
    // whoever knows it by its number in a list means the place that has that number now
    const found = findingsOfBody(await library.views.view(q.params.id), null).find((f) => f.code === code);
    await library.dismissals.add(q.params.id, found?.key ?? code, reason);
    r.status(201).json((await changed(q.params.id)).dismissals);
  });
  router.delete('/bodies/:id/dismissals/:code', async (q, r) => {
    await library.dismissals.remove(q.params.id, q.params.code);
    await changed(q.params.id);
    r.status(204).end();
  });
  for (const [path, what] of [
    ['/bodies/:id/joints/:key', 'joint'],
    ['/bodies/:id/tips/:key', 'tip'],
  ] as const) {
    router.put(path, async (q, r) => {
      const { anyway, at } = check(TickQuery, q.query);
      r.json(await benchTicks.tick(what, q.params.id, q.params.key, anyway === 'yes', toldOf(q, at)));
    });
    router.delete(path, async (q, r) => {
      await benchTicks.untick(what, q.params.id, q.params.key, toldOf(q));
      r.status(204).end();
    });
  }
  router.get('/bodies/:id/bedfuls/:step/:n', async (q, r) => {
    const { word } = check(ExportQuery, q.query);
    const view = await library.views.view(q.params.id);
    const { n, printer, placed } = await bedfulOfPlan(services, q.params.step, Number(q.params.n));
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
  router.get('/bodies/:id/export', async (q, r) => {
    const { format, what, pose, size, word, only, struts } = check(ExportQuery, q.query);
    const now = await library.views.view(q.params.id);
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
