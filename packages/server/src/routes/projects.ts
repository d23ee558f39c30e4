import { and, desc, eq } from 'drizzle-orm';
import { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { ChangeProject, CreateLogEntry, CreateProject, UploadOptions } from '@jasmorphe/contracts/requests';
import type { LogEntryView } from '@jasmorphe/contracts/views';
import { ApiError } from '../http/ApiError.ts';
import { receiveUpload } from '../http/upload.ts';
import { check } from '../http/validate.ts';
import { logEntries, models, parts } from '../store/schema.ts';
import type { Services } from '../Services.ts';

export function projectRoutes({ library, blobs, runner, events, options }: Services): Router {
  const router = Router();
  router.get('/projects', async (_q, r) => void r.json(await library.shelf()));
  router.post('/projects', async (q, r) => {
    const { name, note } = check(CreateProject, q.body);
    const project = await library.createProject(name, note);
    events.send({ type: 'project', projectId: project.id });
    r.status(201).json(project);
  });
  router.get('/projects/:id', async (q, r) => void r.json(await library.project(q.params.id)));
  router.patch(
    '/projects/:id',
    async (q, r) => void r.json(await library.changeProject(q.params.id, { ...check(ChangeProject, q.body) })),
  );
  router.delete('/projects/:id', async (q, r) => {
    await library.removeProject(q.params.id);
    events.send({ type: 'project', projectId: q.params.id });
    r.status(204).end();
  });
  router.post('/projects/:id/models', async (q, r) => {
    await library.projectRow(q.params.id);
    const upload = await receiveUpload(q, blobs, options.uploadLimitBytes);
    const { unit, licence } = check(UploadOptions, upload.fields);
    r.status(202).json(
      await runner.addImport({
        projectId: q.params.id,
        sourceHash: upload.hash,
        fileName: upload.fileName,
        licence,
        params: { unit },
      }),
    );
  });
  router.get('/projects/:id/log', async (q, r) => {
    await library.projectRow(q.params.id);
    r.json(
      await library.db
        .select()
        .from(logEntries)
        .where(eq(logEntries.projectId, q.params.id))
        .orderBy(desc(logEntries.at)),
    );
  });
  router.post('/projects/:id/log', async (q, r) => {
    await library.projectRow(q.params.id);
    const entry = check(CreateLogEntry, q.body);
    const [part] = await library.db
      .select({ tag: parts.tag, modelId: models.id })
      .from(parts)
      .innerJoin(models, eq(parts.modelId, models.id))
      .where(and(eq(parts.id, entry.partId), eq(models.projectId, q.params.id)));
    if (!part) throw ApiError.notFound('part', entry.partId);
    if (entry.outcome === 'failed' && entry.heightMm === undefined)
      throw new ApiError(
        400,
        'bad-params',
        'A print that stopped needs the height it reached.',
        'Measure what stands with calipers.',
        'heightMm',
      );
    const row: LogEntryView = {
      id: randomUUID(),
      projectId: q.params.id,
      partId: entry.partId,
      tag: part.tag,
      printerId: entry.printerId ?? null,
      outcome: entry.outcome,
      heightMm: entry.heightMm ?? null,
      durationS: entry.durationS ?? null,
      materialG: entry.materialG ?? null,
      note: entry.note,
      at: entry.at ?? new Date().toISOString(),
    };
    await library.db.insert(logEntries).values(row);
    const state = { started: 'printing', passed: 'printed', failed: 'failed' } as const;
    await library.setPartState(
      entry.partId,
      state[entry.outcome],
      entry.outcome === 'failed' ? (entry.heightMm ?? null) : null,
    );
    events.send({ type: 'body', bodyId: part.modelId, projectId: q.params.id });
    r.status(201).json(row);
  });
  return router;
}
