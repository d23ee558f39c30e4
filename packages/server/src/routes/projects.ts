import { Router } from 'express';
import { ChangeProject, CreateProject, UploadOptions } from '@jasmorphe/contracts/requests';
import { receiveUpload } from '../http/upload.ts';
import { check } from '../http/validate.ts';
import type { Services } from '../Services.ts';

export function projectRoutes({ library, blobs, queue, requests, events, options }: Services): Router {
  const router = Router();
  router.get('/projects', async (_q, r) => void r.json(await library.shelf.projects()));
  router.post('/projects', async (q, r) => {
    const { name, note } = check(CreateProject, q.body);
    const project = await library.projects.create(name, note);
    events.send({ type: 'project', projectId: project.id });
    r.status(201).json(project);
  });
  router.get('/projects/:id', async (q, r) => void r.json(await library.projects.project(q.params.id)));
  router.patch(
    '/projects/:id',
    async (q, r) => void r.json(await library.projects.change(q.params.id, { ...check(ChangeProject, q.body) })),
  );
  router.delete('/projects/:id', async (q, r) => {
    await queue.removeProject(q.params.id);
    events.send({ type: 'project', projectId: q.params.id });
    r.status(204).end();
  });
  router.post('/projects/:id/models', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    const upload = await receiveUpload(q, blobs, options.uploadLimitBytes);
    const { unit, licence, objects } = check(UploadOptions, upload.fields);
    r.status(202).json(
      await requests.import({
        projectId: q.params.id,
        sourceHash: upload.hash,
        fileName: upload.fileName,
        licence,
        params: { unit },
        objects,
      }),
    );
  });
  return router;
}
