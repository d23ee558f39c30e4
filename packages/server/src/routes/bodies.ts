import { and, eq } from 'drizzle-orm';
import { Router } from 'express';
import {
  ChangeReference,
  CreateReference,
  DismissFinding,
  EditStep,
  ExportQuery,
  FindingsQuery,
  ImportAgain,
  MoveCursor,
  PreviewOperation,
  RunOperation,
  UploadOptions,
} from '@jasmorphe/contracts/requests';
import { descriptionOf } from '@jasmorphe/core/operations/catalogue';
import { findingsOfBody } from '@jasmorphe/contracts/findings';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { exportFile } from '../exportFile.ts';
import { ApiError } from '../http/ApiError.ts';
import { check } from '../http/validate.ts';
import { receiveUpload } from '../http/upload.ts';
import { dismissals, references } from '../store/schema.ts';
import type { Services } from '../Services.ts';

const referenceNames = {
  head: 'a head',
  hand: 'a hand',
  standing: 'a person standing',
  seated: 'a person seated',
} as const;

export function bodyRoutes(services: Services): Router {
  const { library, blobs, runner, events, options } = services;
  const router = Router();
  const idle = async (id: string) => {
    const view = await library.bodyView(id);
    if (view.busyJobId)
      throw new ApiError(409, 'busy', 'A job is still at work on this line.', 'Wait for it, or cancel it.');
  };
  const changed = async (id: string) => {
    const view = await library.bodyView(id);
    events.send({ type: 'body', bodyId: id, projectId: view.projectId });
    if (view.kind === 'part') events.send({ type: 'body', bodyId: view.modelId, projectId: view.projectId });
    return view;
  };
  router.get('/bodies/:id', async (q, r) => void r.json(await library.bodyView(q.params.id)));
  router.delete('/bodies/:id', async (q, r) => {
    const body = await library.body(q.params.id);
    if (body.kind === 'model') await runner.removeModel(q.params.id);
    else await library.removeModel(q.params.id);
    events.send({ type: 'project', projectId: body.projectId });
    r.status(204).end();
  });
  router.get('/bodies/:id/findings', async (q, r) => {
    const { stop } = check(FindingsQuery, q.query);
    const findings = findingsOfBody(await library.bodyView(q.params.id), stop ?? null);
    r.json(findings.map((f) => ({ ...f, message: findingSentence(f) })));
  });
  router.post('/bodies/:id/imports', async (q, r) => {
    const { objects } = check(ImportAgain, q.body);
    const { model, projectId } = await library.body(q.params.id);
    r.status(202).json(
      await runner.addImport({
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
    const { operation, params, dry } = check(RunOperation, q.body);
    const body = await library.body(q.params.id);
    if (body.kind === 'part' && descriptionOf(operation).makes === 'parts')
      throw new ApiError(
        400,
        'cannot',
        'A part is not divided again on its own line.',
        'Change the cuts of the divide step instead.',
      );
    r.status(202).json(await runner.addStep(body, { operation, params }, dry));
  });
  router.put('/bodies/:id/steps/:index', async (q, r) => {
    const { params, dry } = check(EditStep, q.body);
    r.status(202).json(await runner.editStep(await library.body(q.params.id), Number(q.params.index), params, dry));
  });
  router.post('/bodies/:id/previews', async (q, r) => {
    const { operation, params, after, ifKnown } = check(PreviewOperation, q.body);
    const body = await library.body(q.params.id);
    const answer = await runner.addPreview(body, { operation, params }, after ?? body.cursor, ifKnown);
    if (answer === null) r.status(204).end();
    else r.status('report' in answer ? 200 : 202).json(answer);
  });
  router.post('/bodies/:id/samples', async (q, r) => {
    r.status(202).json(
      await runner.addSample(await library.body(q.params.id), (q.body ?? {}) as Record<string, unknown>),
    );
  });
  router.post('/bodies/:id/references', async (q, r) => {
    const { kind, measures, name } = check(CreateReference, q.body);
    const body = await library.body(q.params.id);
    r.status(202).json(
      await runner.addReference(body, { name: name ?? referenceNames[kind], made: { kind, measures } }),
    );
  });
  router.post('/bodies/:id/references/scan', async (q, r) => {
    const body = await library.body(q.params.id);
    const upload = await receiveUpload(q, blobs, options.uploadLimitBytes);
    const { unit } = check(UploadOptions, upload.fields);
    r.status(202).json(
      await runner.addReference(body, {
        name: upload.fileName.slice(0, 80),
        made: { sourceHash: upload.hash, fileName: upload.fileName, unit },
      }),
    );
  });
  const reference = async (id: string) => {
    const [row] = await library.db.select().from(references).where(eq(references.id, id));
    if (!row) throw ApiError.notFound('reference', id);
    return row;
  };
  router.patch('/references/:id', async (q, r) => {
    const change = check(ChangeReference, q.body);
    const row = await reference(q.params.id);
    const given = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
    if (Object.keys(given).length > 0)
      await library.commit('reference', [
        library.db.update(references).set(given).where(eq(references.id, q.params.id)),
      ]);
    r.json((await changed(row.modelId)).references.find((x) => x.id === row.id));
  });
  router.delete('/references/:id', async (q, r) => {
    const row = await reference(q.params.id);
    await library.commit('reference', [library.db.delete(references).where(eq(references.id, q.params.id))]);
    await changed(row.modelId);
    r.status(204).end();
  });
  router.post('/bodies/:id/undo', async (q, r) => {
    await idle(q.params.id);
    await library.undo(q.params.id);
    r.json(await changed(q.params.id));
  });
  router.post('/bodies/:id/redo', async (q, r) => {
    await idle(q.params.id);
    await library.redo(q.params.id);
    r.json(await changed(q.params.id));
  });
  router.post('/bodies/:id/cursor', async (q, r) => {
    const { cursor } = check(MoveCursor, q.body);
    await idle(q.params.id);
    await library.moveCursor(q.params.id, cursor);
    r.json(await changed(q.params.id));
  });
  router.post('/bodies/:id/dismissals', async (q, r) => {
    const { code, reason } = check(DismissFinding, q.body);
    // whoever knows it by its number in a list means the place that has that number now
    const found = findingsOfBody(await library.bodyView(q.params.id), null).find((f) => f.code === code);
    const row = { bodyId: q.params.id, code: found?.key ?? code, reason, at: new Date().toISOString() };
    await library.commit('dismissal', [
      library.db
        .insert(dismissals)
        .values(row)
        .onConflictDoUpdate({ target: [dismissals.bodyId, dismissals.code], set: { reason, at: row.at } }),
    ]);
    r.status(201).json((await changed(q.params.id)).dismissals);
  });
  router.delete('/bodies/:id/dismissals/:code', async (q, r) => {
    await library.body(q.params.id);
    await library.commit('dismissal', [
      library.db.delete(dismissals).where(and(eq(dismissals.bodyId, q.params.id), eq(dismissals.code, q.params.code))),
    ]);
    await changed(q.params.id);
    r.status(204).end();
  });
  router.get('/bodies/:id/export', async (q, r) => {
    const { format, what, pose } = check(ExportQuery, q.query);
    const { name, type, bytes } = await exportFile(services, await library.bodyView(q.params.id), format, what, pose);
    r.set({
      'Content-Type': type,
      'Content-Disposition': `attachment; filename="${name.replace(/[^\x20-\x7e]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`,
    });
    r.end(bytes);
  });
  return router;
}
