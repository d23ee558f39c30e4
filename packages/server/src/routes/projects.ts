import { Router } from 'express';
import { isAbsolute, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Origin } from '@jasmorphe/contracts/Origin';
import {
  BackupRequest,
  ChangeProject,
  CopyProject,
  CreateProject,
  PackQuery,
  RemoveQuery,
  RestoreRequest,
  UploadOptions,
} from '@jasmorphe/contracts/requests';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import { localDay } from '@jasmorphe/core/planning/days/instants';
import { Refusal } from '../store/Refusal.ts';
import { fileNameOf, withUpload } from '../http/upload.ts';
import { check } from '../http/validate.ts';
import { alteredAgainstTerms, writePack } from '../pack/packArchive.ts';
import { putPack } from '../pack/readPack.ts';
import type { Services } from '../Services.ts';

/** An archive of a project is far larger than a file of it, bytes. */
const mostPackBytes = 64 * 2 ** 30;

export function projectRoutes(services: Services): Router {
  const { library, blobs, queue, requests, packs, backups, remaker, events, options } = services;
  const router = Router();
  const told = (projectId: string) => events.send({ type: 'project', projectId });
  router.get('/projects', async (_q, r) => void r.json(await library.shelf.projects()));
  router.post('/projects', async (q, r) => {
    const { name, note } = check(CreateProject, q.body);
    const project = await library.projects.create(name, note);
    told(project.id);
    r.status(201).json(project);
  });
  router.post('/projects/unpack', async (q, r) => {
    const limits = { limitBytes: mostPackBytes, most: 1 };
    const done = await withUpload(q, services, limits, async ({ files: [{ temporary }], take }) =>
      putPack(await services.unpack(temporary), take, packs),
    );
    services.refreshFacts();
    told(done.projectId);
    r.status(201).json(done);
  });
  router.get('/projects/:id', async (q, r) => void r.json(await library.projects.project(q.params.id)));
  router.patch('/projects/:id', async (q, r) => {
    const { source, ...change } = check(ChangeProject, q.body);
    const project = await library.projects.change(q.params.id, {
      ...change,
      ...(source === undefined ? {} : { source: { ...check(Origin, source) } }),
    });
    told(project.id);
    r.json(project);
  });
  router.delete('/projects/:id', async (q, r) => {
    const { forever } = check(RemoveQuery, q.query);
    await queue.removeProject(q.params.id, forever === 'yes');
    told(q.params.id);
    r.status(204).end();
  });
  router.post('/projects/:id/restore', async (q, r) => {
    const project = await library.projects.bringBack(q.params.id);
    told(project.id);
    r.json(project);
  });
  router.post('/projects/:id/copy', async (q, r) => {
    const { name } = check(CopyProject, q.body ?? {});
    await library.projects.mustExist(q.params.id);
    const id = await packs.copy(q.params.id, name);
    told(id);
    r.status(201).json(await library.projects.project(id));
  });
  router.get('/projects/:id/pack', async (q, r) => {
    const { word } = check(PackQuery, q.query);
    await library.projects.mustExist(q.params.id);
    const packed = await packs.snapshot(q.params.id);
    const altered = alteredAgainstTerms(packed.rows);
    if (altered.length > 0 && word !== 'yes') throw noDerivatives(altered);
    if (word === 'ask') return void r.status(204).end();
    // what is missing is told before the first byte goes out
    await remaker.all(packed.rows.meshes.map((m) => m.hash));
    const { stream } = writePack(packed, blobs);
    const name = `${safeFileName(packed.rows.projects[0].name)}.jasmorphe.zip`;
    r.set({ 'Content-Type': 'application/zip', 'Content-Disposition': disposition(name) });
    await pipeline(stream, r);
  });
  router.post('/backup', async (q, r) => {
    const { folder } = check(BackupRequest, q.body ?? {});
    if (folder !== undefined && !isAbsolute(folder))
      throw new Refusal(
        'request',
        'bad-params',
        'The folder must be named from the root.',
        'Such as /home/me/backup.',
        'folder',
      );
    const day = localDay(Date.now());
    r.status(201).json(await backups.make(folder ?? join(`${options.dataFolder}-backups`, day)));
  });
  router.post('/backup/restore', async (q, r) => {
    const { folder, anyway } = check(RestoreRequest, q.body);
    await queue.endJobsOf('all');
    const restored = await backups.restore(folder, anyway);
    // jobs that were at work when the backup was made
    await queue.start();
    events.send({ type: 'everything' });
    r.json(restored);
  });
  router.post('/projects/:id/models', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    const limits = { limitBytes: options.uploadLimitBytes, most: 1 };
    const job = await withUpload(q, services, limits, async ({ files: [file], fields, take }) => {
      const { unit, licence, objects } = check(UploadOptions, fields);
      await take(file);
      return requests.import({
        projectId: q.params.id,
        sourceHash: file.hash,
        fileName: fileNameOf(file),
        licence,
        params: { unit },
        objects,
      });
    });
    r.status(202).json(job);
  });
  return router;
}

/** How a file that is fetched is called; names in other scripts go along as RFC 6266 says. */
export const disposition = (name: string): string =>
  `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`;

/** Altered files of such works go out only after a word. */
export const noDerivatives = (names: readonly string[]): Refusal =>
  new Refusal(
    'state',
    'no-derivatives',
    `The terms of ${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''} keep altered files from being passed on.`,
    'Fetch it for yourself alone, saying so (word=yes). The file is marked.',
  );
