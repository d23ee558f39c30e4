import { Router } from 'express';
import { rm } from 'node:fs/promises';
import {
  AddVersion,
  ChangePiece,
  ChooseVariant,
  MakeTwins,
  NewVersion,
  RunBatch,
  UndoBatch,
  mostPieces,
} from '@jasmorphe/contracts/kitRequests';
import { ChangeAttachment, CreateNote, PhotoFields } from '@jasmorphe/contracts/kitRequests';
import { Origin } from '@jasmorphe/contracts/Origin';
import { lineOperations, UploadOptions } from '@jasmorphe/contracts/requests';
import { fileNameIn, kitPath } from '@jasmorphe/core/kit/pieceNames';
import { nameNow } from '@jasmorphe/core/operations/catalogue';
import { ApiError } from '../http/ApiError.ts';
import { Refusal } from '../store/Refusal.ts';
import { fileNameOf, withUpload } from '../http/upload.ts';
import { check } from '../http/validate.ts';
import { gatherKit, mostPhotoBytes } from '../kit/gatherKit.ts';
import type { Services } from '../Services.ts';

/** Kits: many files as one job, and one operation on many pieces. */
export function kitRoutes(services: Services): Router {
  const { library, blobs, batches, requests, events, options } = services;
  const router = Router();
  const told = (projectId: string) => events.send({ type: 'project', projectId });
  router.get('/projects/:id/kit', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    r.json(await library.kits.kit(q.params.id));
  });
  router.post('/projects/:id/kit', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    const limits = { limitBytes: options.uploadLimitBytes, most: mostPieces };
    const drop = await withUpload(q, services, limits, async ({ files, fields, take }) => {
      const reading = check(UploadOptions, fields);
      const unpacked: string[] = [];
      try {
        const gathered = await gatherKit(blobs, files, unpacked);
        if (gathered.meshes.length > mostPieces)
          throw new ApiError(
            413,
            'too-large',
            `${gathered.meshes.length} meshes are more than one kit may have, ${mostPieces}.`,
            'Divide it over several projects.',
          );
        for (const file of [...gathered.meshes, ...gathered.photos, ...gathered.notes]) await take(file);
        return await batches.import(q.params.id, gathered, reading);
      } finally {
        for (const temporary of unpacked) await rm(temporary, { force: true });
      }
    });
    r.status(202).json(drop);
    told(q.params.id);
  });
  router.post('/projects/:id/pieces', async (q, r) => {
    const { sourceHash, fileName } = check(AddVersion, q.body);
    await library.projects.mustExist(q.params.id);
    const path = kitPath(fileName) || 'file';
    r.status(202).json(
      await requests.import({
        projectId: q.params.id,
        sourceHash,
        fileName: fileNameIn(path),
        path,
        licence: '',
        params: { unit: 'auto' },
        objects: 'apart',
      }),
    );
  });
  router.post('/projects/:id/kit/unit', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    const batch = await batches.readAlike(q.params.id);
    if (!batch) throw new Refusal('state', 'nothing-to-do', 'All pieces are in one unit already.', '');
    r.status(202).json(batch);
  });
  router.post('/projects/:id/variants', async (q, r) => {
    const { ids, chosen } = check(ChooseVariant, q.body);
    await library.projects.mustExist(q.params.id);
    await library.kits.choose(q.params.id, ids, chosen);
    for (const bodyId of ids) events.send({ type: 'body', bodyId, projectId: q.params.id });
    told(q.params.id);
    r.json(await library.kits.kit(q.params.id));
  });
  router.post('/projects/:id/batches', async (q, r) => {
    const { operation: said, ...rest } = (q.body ?? {}) as Record<string, unknown>;
    const { operation, params, bodyIds, dry } = check(RunBatch, { ...rest, operation: nameNow(said) });
    if (!dry && !lineOperations.includes(operation))
      throw new Refusal(
        'request',
        'bad-params',
        `"${operation}" cannot stand in a line.`,
        'Ask for it dry.',
        'operation',
      );
    r.status(202).json(await batches.run(q.params.id, operation, params, bodyIds, dry));
  });
  router.get('/batches/:id', async (q, r) => void r.json(await library.batches.view(q.params.id)));
  router.get('/batches/:id/answers', async (q, r) => void r.json(await batches.answers(q.params.id)));
  router.post('/batches/:id/cancel', async (q, r) => void r.json(await batches.cancel(q.params.id)));
  router.post(
    '/batches/:id/undo',
    async (q, r) => void r.json(await batches.undo(q.params.id, check(UndoBatch, q.body ?? {}).lose)),
  );
  router.patch('/bodies/:id', async (q, r) => {
    const { aside, reason, source, ...rest } = check(ChangePiece, q.body);
    const body = await library.bodies.body(q.params.id);
    if (body.kind !== 'model')
      throw new Refusal('request', 'cannot', 'A part has its name and terms from its piece.', 'Change the piece.');
    await library.kits.change(body.id, {
      ...rest,
      ...(aside === undefined ? {} : { aside: aside ? (reason ?? 'set aside') : null }),
      ...(source === undefined ? {} : { source: { ...check(Origin, source) } }),
    });
    events.send({ type: 'body', bodyId: body.id, projectId: body.projectId });
    told(body.projectId);
    r.json(await library.views.view(body.id));
  });
  router.post('/bodies/:id/twins', async (q, r) => {
    const { copies } = check(MakeTwins, q.body);
    const { projectId, id } = await library.bodies.body(q.params.id);
    const ids = await library.twins.make(id, copies);
    for (const bodyId of [id, ...ids]) events.send({ type: 'body', bodyId, projectId });
    told(projectId);
    events.send({ type: 'project', projectId });
    r.status(201).json({ ids });
  });
  router.post('/bodies/:id/version', async (q, r) => {
    const { sourceHash, fileName, lose } = check(NewVersion, q.body);
    const body = await library.bodies.body(q.params.id);
    const [waiting] = await library.jobs.open({ bodyId: body.id, kind: 'line' });
    if (waiting)
      throw new Refusal(
        'state',
        'busy',
        `"${waiting.title}" is still at work on this line.`,
        'Wait for it, or cancel it.',
      );
    r.status(202).json(await batches.version(body, sourceHash, fileName, lose));
  });
  router.get('/projects/:id/attachments', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    r.json(await library.attachments.ofProject(q.params.id));
  });
  router.post('/projects/:id/notes', async (q, r) => {
    const { text, bodyId } = check(CreateNote, q.body);
    await ofProject(bodyId, q.params.id);
    r.status(201).json(await library.attachments.addNote(q.params.id, bodyId ?? null, text));
    told(q.params.id);
  });
  router.post('/projects/:id/photos', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    const limits = { limitBytes: mostPhotoBytes, most: 1 };
    const photo = await withUpload(q, services, limits, async ({ files: [file], fields, take }) => {
      const { text, bodyId } = check(PhotoFields, fields);
      await ofProject(bodyId, q.params.id);
      await take(file);
      return library.attachments.addPhoto(q.params.id, bodyId ?? null, file.hash, fileNameOf(file), text);
    });
    r.status(201).json(photo);
    told(q.params.id);
  });
  router.patch('/attachments/:id', async (q, r) => {
    const { text } = check(ChangeAttachment, q.body);
    const view = await library.attachments.change(q.params.id, text);
    told(view.projectId);
    r.json(view);
  });
  router.delete('/attachments/:id', async (q, r) => {
    const { projectId } = await library.attachments.one(q.params.id);
    await library.attachments.remove(q.params.id);
    told(projectId);
    r.status(204).end();
  });
  router.get('/attachments/:id/picture', async (q, r) => {
    const { hash, mediaType } = await library.attachments.one(q.params.id);
    if (hash === null) throw new Refusal('unknown', 'not-found', 'A note has no picture.', '');
    // a picture is shown, never run, whatever is in it
    r.set({ 'Content-Type': mediaType, 'Cache-Control': 'private, max-age=31536000, immutable' });
    r.send(await blobs.read('sources', hash));
  });
  /** @throws Refusal when the body is none of the project's */
  async function ofProject(bodyId: string | undefined, projectId: string): Promise<void> {
    await library.projects.mustExist(projectId);
    if (bodyId === undefined) return;
    const body = await library.bodies.body(bodyId);
    if (body.projectId !== projectId) throw Refusal.notFound('piece', bodyId);
  }
  return router;
}
