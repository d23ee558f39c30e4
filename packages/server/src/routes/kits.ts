import type { Router } from 'express';
import { rm } from 'node:fs/promises';
import { mostPieces } from '@jasmorphe/contracts/kitRequests';
import { PhotoFields } from '@jasmorphe/contracts/kitRequests';
import { Origin } from '@jasmorphe/contracts/Origin';
import { lineOperations, UploadOptions } from '@jasmorphe/contracts/requests';
import { fileNameIn, kitPath } from '@jasmorphe/core/kit/pieceNames';
import { ApiError } from '../http/ApiError.ts';
import { Refusal } from '../store/Refusal.ts';
import { fileNameOf, withUpload } from '../http/upload.ts';
import { check } from '../http/validate.ts';
import { gatherKit, mostPhotoBytes } from '../kit/gatherKit.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

/** Kits: many files as one job, and one operation on many pieces. */
export function kitRoutes(services: Services): Router {
  const { library, blobs, batches, requests, events, options } = services;
  const { router, answer, send } = serving();
  const told = (projectId: string) => events.send({ type: 'project', projectId });
  answer('GET /projects/{id}/kit', async ({ path }) => {
    await library.projects.mustExist(path.id);
    return library.kits.kit(path.id);
  });
  answer('POST /projects/{id}/kit', async ({ path, q }) => {
    await library.projects.mustExist(path.id);
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
        return await batches.import(path.id, gathered, reading);
      } finally {
        for (const temporary of unpacked) await rm(temporary, { force: true });
      }
    });
    told(path.id);
    return drop;
  });
  answer('POST /projects/{id}/pieces', async ({ path, body: { sourceHash, fileName } }) => {
    await library.projects.mustExist(path.id);
    const within = kitPath(fileName) || 'file';
    return requests.import({
      projectId: path.id,
      sourceHash,
      fileName: fileNameIn(within),
      path: within,
      licence: '',
      params: { unit: 'auto' },
      objects: 'apart',
    });
  });
  answer('POST /projects/{id}/kit/unit', async ({ path }) => {
    await library.projects.mustExist(path.id);
    const batch = await batches.readAlike(path.id);
    if (!batch) throw new Refusal('state', 'nothing-to-do', 'All pieces are in one unit already.', '');
    return batch;
  });
  answer('POST /projects/{id}/variants', async ({ path, body: { ids, chosen } }) => {
    await library.projects.mustExist(path.id);
    await library.kits.choose(path.id, ids, chosen);
    for (const bodyId of ids) events.send({ type: 'body', bodyId, projectId: path.id });
    told(path.id);
    return library.kits.kit(path.id);
  });
  answer('POST /projects/{id}/batches', async ({ path, body: { operation, params, bodyIds, dry } }) => {
    if (!dry && !lineOperations.includes(operation))
      throw new Refusal(
        'request',
        'bad-params',
        `"${operation}" cannot stand in a line.`,
        'Ask for it dry.',
        'operation',
      );
    return batches.run(path.id, operation, params, bodyIds, dry);
  });
  answer('GET /batches/{id}', ({ path }) => library.batches.view(path.id));
  answer('GET /batches/{id}/answers', ({ path }) => batches.answers(path.id));
  answer('POST /batches/{id}/cancel', ({ path }) => batches.cancel(path.id));
  answer('POST /batches/{id}/undo', ({ path, body }) => batches.undo(path.id, body.lose));
  answer('PATCH /bodies/{id}', async ({ path, body: { aside, reason, source, ...rest } }) => {
    const body = await library.bodies.body(path.id);
    if (body.kind !== 'model')
      throw new Refusal('request', 'cannot', 'A part has its name and terms from its piece.', 'Change the piece.');
    await library.kits.change(body.id, {
      ...rest,
      ...(aside === undefined ? {} : { aside: aside ? (reason ?? 'set aside') : null }),
      ...(source === undefined ? {} : { source: { ...check(Origin, source) } }),
    });
    events.send({ type: 'body', bodyId: body.id, projectId: body.projectId });
    told(body.projectId);
    return library.views.view(body.id);
  });
  answer('POST /bodies/{id}/twins', async ({ path, body: { copies } }) => {
    const { projectId, id } = await library.bodies.body(path.id);
    const ids = await library.twins.make(id, copies);
    for (const bodyId of [id, ...ids]) events.send({ type: 'body', bodyId, projectId });
    told(projectId);
    events.send({ type: 'project', projectId });
    return { ids };
  });
  answer('POST /bodies/{id}/version', async ({ path, body: { sourceHash, fileName, lose } }) => {
    const body = await library.bodies.body(path.id);
    const [waiting] = await library.jobs.open({ bodyId: body.id, kind: 'line' });
    if (waiting)
      throw new Refusal(
        'state',
        'busy',
        `"${waiting.title}" is still at work on this line.`,
        'Wait for it, or cancel it.',
      );
    return batches.version(body, sourceHash, fileName, lose);
  });
  answer('GET /projects/{id}/attachments', async ({ path }) => {
    await library.projects.mustExist(path.id);
    return library.attachments.ofProject(path.id);
  });
  answer('POST /projects/{id}/notes', async ({ path, body: { text, bodyId } }) => {
    await ofProject(bodyId, path.id);
    const note = await library.attachments.addNote(path.id, bodyId ?? null, text);
    told(path.id);
    return note;
  });
  answer('POST /projects/{id}/photos', async ({ path, q }) => {
    await library.projects.mustExist(path.id);
    const limits = { limitBytes: mostPhotoBytes, most: 1 };
    const photo = await withUpload(q, services, limits, async ({ files: [file], fields, take }) => {
      const { text, bodyId } = check(PhotoFields, fields);
      await ofProject(bodyId, path.id);
      await take(file);
      return library.attachments.addPhoto(path.id, bodyId ?? null, file.hash, fileNameOf(file), text);
    });
    told(path.id);
    return photo;
  });
  answer('PATCH /attachments/{id}', async ({ path, body: { text } }) => {
    const view = await library.attachments.change(path.id, text);
    told(view.projectId);
    return view;
  });
  answer('DELETE /attachments/{id}', async ({ path }) => {
    const { projectId } = await library.attachments.one(path.id);
    await library.attachments.remove(path.id);
    told(projectId);
  });
  send('GET /attachments/{id}/picture', async ({ path, r }) => {
    const { hash, mediaType } = await library.attachments.one(path.id);
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
