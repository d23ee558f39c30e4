import type { Router } from 'express';
import { isAbsolute, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Origin } from '@jasmorphe/contracts/Origin';
import { UploadOptions } from '@jasmorphe/contracts/requests';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import { localDay } from '@jasmorphe/core/planning/days/instants';
import { Refusal } from '../store/Refusal.ts';
import { fileNameOf, withUpload } from '../http/upload.ts';
import { check } from '../http/validate.ts';
import { alteredAgainstTerms, writePack } from '../pack/packArchive.ts';
import { putPack } from '../pack/readPack.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

/** An archive of a project is far larger than a file of it, bytes. */
const mostPackBytes = 64 * 2 ** 30;

export function projectRoutes(services: Services): Router {
  const { library, blobs, queue, requests, packs, backups, remaker, events, options } = services;
  const { router, answer, send } = serving();
  const told = (projectId: string) => events.send({ type: 'project', projectId });
  answer('GET /projects', () => library.shelf.projects());
  answer('POST /projects', async ({ body: { name, note } }) => {
    const project = await library.projects.create(name, note);
    told(project.id);
    return project;
  });
  answer('POST /projects/unpack', async ({ q }) => {
    const limits = { limitBytes: mostPackBytes, most: 1 };
    const done = await withUpload(q, services, limits, async ({ files: [{ temporary }], take }) =>
      putPack(await services.unpack(temporary), take, packs),
    );
    services.refreshFacts();
    told(done.projectId);
    return done;
  });
  answer('GET /projects/{id}', ({ path }) => library.projects.project(path.id));
  answer('PATCH /projects/{id}', async ({ path, body: { source, ...change } }) => {
    const project = await library.projects.change(path.id, {
      ...change,
      ...(source === undefined ? {} : { source: { ...check(Origin, source) } }),
    });
    told(project.id);
    return project;
  });
  answer('DELETE /projects/{id}', async ({ path, query: { forever } }) => {
    await queue.removeProject(path.id, forever === 'yes');
    told(path.id);
  });
  answer('POST /projects/{id}/restore', async ({ path }) => {
    const project = await library.projects.bringBack(path.id);
    told(project.id);
    return project;
  });
  answer('POST /projects/{id}/copy', async ({ path, body: { name } }) => {
    await library.projects.mustExist(path.id);
    const id = await packs.copy(path.id, name);
    told(id);
    return library.projects.project(id);
  });
  send('GET /projects/{id}/pack', async ({ path, query: { word }, r }) => {
    await library.projects.mustExist(path.id);
    const packed = await packs.snapshot(path.id);
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
  answer('POST /backup', async ({ body: { folder } }) => {
    if (folder !== undefined && !isAbsolute(folder))
      throw new Refusal(
        'request',
        'bad-params',
        'The folder must be named from the root.',
        'Such as /home/me/backup.',
        'folder',
      );
    const day = localDay(Date.now());
    return backups.make(folder ?? join(`${options.dataFolder}-backups`, day));
  });
  answer('POST /backup/restore', async ({ body: { folder, anyway } }) => {
    await queue.endJobsOf('all');
    const restored = await backups.restore(folder, anyway);
    // jobs that were at work when the backup was made
    await queue.start();
    events.send({ type: 'everything' });
    return restored;
  });
  answer('POST /projects/{id}/models', async ({ path, q }) => {
    await library.projects.mustExist(path.id);
    const limits = { limitBytes: options.uploadLimitBytes, most: 1 };
    return withUpload(q, services, limits, async ({ files: [file], fields, take }) => {
      const { unit, licence, objects } = check(UploadOptions, fields);
      await take(file);
      return requests.import({
        projectId: path.id,
        sourceHash: file.hash,
        fileName: fileNameOf(file),
        licence,
        params: { unit },
        objects,
      });
    });
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
