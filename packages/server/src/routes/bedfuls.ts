import { Router } from 'express';
import {
  ChangeBedful,
  EndBedful,
  KeepBedfuls,
  MoveBedful,
  StoppedPart,
  TakenFrom,
} from '@jasmorphe/contracts/dayRequests';
import type { ProjectBedsView } from '@jasmorphe/contracts/dayViews';
import { ExportQuery, SaidWhen } from '@jasmorphe/contracts/requests';
import { gluedFaces } from '@jasmorphe/contracts/reading/poses';
import { isStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { instantOf } from '@jasmorphe/core/planning/days/instants';
import { isWaiting } from '@jasmorphe/core/planning/printState';
import { countOf } from '@jasmorphe/core/words/numbers';
import { forbidsAltered, termsOf } from '@jasmorphe/core/trade/licences';
import { exportPlaced } from '../files/exportFile.ts';
import { fileWordsOf } from '../files/fileWords.ts';
import { onOtherPrinter } from '../planning/moveBedful.ts';
import { Refusal } from '../store/Refusal.ts';
import { toldOf } from '../http/told.ts';
import { check } from '../http/validate.ts';
import { modelsOf, type BedfulRow } from '../store/bedfulViews.ts';
import { disposition, noDerivatives } from './projects.ts';
import type { Services } from '../Services.ts';

/** An instant as it is kept. @throws MeshError `bad-params` where only a year is said, or a week */
const wholeInstant = (text: string, field: string): string => new Date(instantOf(text, field)).toISOString();

/** Bedfuls that were decided: kept, arranged, sent, and off the bed again. */
export function bedfulRoutes(services: Services): Router {
  const { library, events, bedfulPrints } = services;
  const { bedfuls, workshop } = library;
  const router = Router();
  const told = (bodyIds: readonly string[], projectId: string): void => {
    for (const bodyId of bodyIds) events.send({ type: 'body', bodyId, projectId });
  };

  router.get('/bodies/:id/bedfuls', async (q, r) => {
    const { model } = await library.bodies.body(q.params.id);
    r.json(await bedfuls.ofModel(model.id));
  });
  router.get('/projects/:id/bedfuls', async (q, r) => {
    const { modelIds } = await library.projects.project(q.params.id);
    const views = await library.views.viewsOf(modelIds);
    const rows = await bedfuls.rowsOf(modelIds);
    const beds: ProjectBedsView = {
      models: modelIds.flatMap((id) => {
        const v = views.get(id);
        if (!v || v instanceof Error || v.aside !== null) return [];
        const parts = v.parts.filter(isWaiting);
        return [{ id: v.id, name: v.name, colour: v.colour, whole: v.parts.length === 1, glued: gluedFaces(v), parts }];
      }),
      bedfuls: await bedfuls.told(rows, views),
    };
    r.json(beds);
  });
  router.post('/bodies/:id/bedfuls', async (q, r) => {
    const { stepId } = check(KeepBedfuls, q.body);
    const { model, projectId } = await library.bodies.body(q.params.id);
    const step = await library.meshes.step(stepId);
    if (!step || !isStepOf(step, catalogue.bedfuls)) throw Refusal.notFound('plan of bedfuls', stepId.slice(0, 12));
    told(await bedfuls.keep(model.id, step), projectId);
    r.status(201).json(await bedfuls.ofModel(model.id));
  });
  router.post('/bodies/:id/bedfuls/undo', async (q, r) => {
    const { model, projectId } = await library.bodies.body(q.params.id);
    told(await bedfuls.undo(model.id), projectId);
    r.json(await bedfuls.ofModel(model.id));
  });
  router.get('/bedfuls/:id', async (q, r) => void r.json((await bedfuls.one(q.params.id)).view));
  router.patch('/bedfuls/:id', async (q, r) => {
    const { wantedAt } = check(ChangeBedful, q.body);
    const { row } = await bedfuls.one(q.params.id);
    const view = await bedfuls.want(row.id, wantedAt ? wholeInstant(wantedAt, 'wantedAt') : null);
    told(modelsOf(row), row.projectId);
    r.json(view);
  });
  router.post('/bedfuls/:id/move', async (q, r) => {
    const { printerId, wantedAt } = check(MoveBedful, q.body);
    const { row, view } = await bedfuls.one(q.params.id);
    const wanted = wantedAt ? wholeInstant(wantedAt, 'wantedAt') : wantedAt;
    await bedfuls.mustWait(row.id);
    const printer = (await workshop.printers()).find((p) => p.id === printerId);
    if (!printer) throw Refusal.notFound('printer', printerId);
    // where it is already there is nothing to move but its day
    const moved =
      printerId === row.printerId
        ? await bedfuls.want(row.id, wanted === undefined ? row.wantedAt : wanted)
        : await bedfuls.move(row, printer, await onOtherPrinter(services, row, view, printer), wanted);
    told(modelsOf(row), row.projectId);
    r.status(201).json(moved);
  });
  router.delete('/bedfuls/:id', async (q, r) => {
    const row = await bedfuls.remove(q.params.id);
    told(modelsOf(row), row.projectId);
    r.status(204).end();
  });
  router.get('/bedfuls/:id/file', async (q, r) => {
    const { word } = check(ExportQuery, q.query);
    const { row } = await bedfuls.one(q.params.id);
    const views = await viewsOf(row);
    const work = await library.kits.work(row.projectId);
    const own = views.filter((view) => forbidsAltered(termsOf(view, work)));
    if (own.length > 0 && word !== 'yes') throw noDerivatives(own.map((view) => view.name));
    const called = views.length === 1 ? views[0].name : `${views[0].name}-and-${countOf(views.length - 1, 'other')}`;
    const { name, type, bytes } = await exportPlaced(
      services,
      called,
      row.number,
      row.printerName,
      row.parts,
      fileWordsOf(views, work),
    );
    r.set({ 'Content-Type': type, 'Content-Disposition': disposition(name) });
    r.end(bytes);
  });

  /** Models that a bedful holds parts of, as they are now; those that are gone are left out. @throws Refusal `not-found` where all are */
  const viewsOf = async (row: BedfulRow): Promise<BodyView[]> => {
    const found = await library.views.viewsOf(modelsOf(row));
    const views = [...found.values()].filter((v): v is BodyView => !(v instanceof Error));
    return views.length > 0 ? views : [await library.views.view(row.modelId)];
  };

  router.post('/bedfuls/:id/start', async (q, r) => {
    const { at } = check(SaidWhen, q.body ?? {});
    r.status(201).json(await bedfulPrints.start(q.params.id, toldOf(q, at)));
  });
  router.post('/bedfuls/:id/end', async (q, r) => {
    const { hours, note, at, ...lists } = check(EndBedful, q.body ?? {});
    const stopped = lists.stopped.map((s) => parseParams(StoppedPart, s));
    const taken = lists.taken.map((t) => parseParams(TakenFrom, t));
    r.status(201).json(await bedfulPrints.end(q.params.id, { hours, note, stopped, taken }, toldOf(q, at)));
  });
  router.post('/bedfuls/:id/undo', async (q, r) => {
    const { at } = check(SaidWhen, q.body ?? {});
    r.json(await bedfulPrints.takeBack(q.params.id, toldOf(q, at)));
  });
  return router;
}
