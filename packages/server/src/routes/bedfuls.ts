import type { Router } from 'express';
import { StoppedPart, TakenFrom } from '@jasmorphe/contracts/dayRequests';
import type { ProjectBedsView } from '@jasmorphe/contracts/dayViews';
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
import { modelsOf, type BedfulRow } from '../store/bedfulViews.ts';
import { disposition, noDerivatives } from './projects.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

/** An instant as it is kept. @throws MeshError `bad-params` where only a year is said, or a week */
const wholeInstant = (text: string, field: string): string => new Date(instantOf(text, field)).toISOString();

/** Bedfuls that were decided: kept, arranged, sent, and off the bed again. */
export function bedfulRoutes(services: Services): Router {
  const { library, events, bedfulPrints } = services;
  const { bedfuls, workshop } = library;
  const { router, answer, send } = serving();
  const told = (bodyIds: readonly string[], projectId: string): void => {
    for (const bodyId of bodyIds) events.send({ type: 'body', bodyId, projectId });
  };

  answer('GET /bodies/{id}/bedfuls', async ({ path }) => {
    const { model } = await library.bodies.body(path.id);
    return bedfuls.ofModel(model.id);
  });
  answer('GET /projects/{id}/bedfuls', async ({ path }) => {
    const { modelIds } = await library.projects.project(path.id);
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
    return beds;
  });
  answer('POST /bodies/{id}/bedfuls', async ({ path, body: { stepId } }) => {
    const { model, projectId } = await library.bodies.body(path.id);
    const step = await library.meshes.step(stepId);
    if (!step || !isStepOf(step, catalogue.bedfuls)) throw Refusal.notFound('plan of bedfuls', stepId.slice(0, 12));
    told(await bedfuls.keep(model.id, step), projectId);
    return bedfuls.ofModel(model.id);
  });
  answer('POST /bodies/{id}/bedfuls/undo', async ({ path }) => {
    const { model, projectId } = await library.bodies.body(path.id);
    told(await bedfuls.undo(model.id), projectId);
    return bedfuls.ofModel(model.id);
  });
  answer('GET /bedfuls/{id}', async ({ path }) => (await bedfuls.one(path.id)).view);
  answer('PATCH /bedfuls/{id}', async ({ path, body: { wantedAt } }) => {
    const { row } = await bedfuls.one(path.id);
    const view = await bedfuls.want(row.id, wantedAt ? wholeInstant(wantedAt, 'wantedAt') : null);
    told(modelsOf(row), row.projectId);
    return view;
  });
  answer('POST /bedfuls/{id}/move', async ({ path, body: { printerId, wantedAt } }) => {
    const { row, view } = await bedfuls.one(path.id);
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
    return moved;
  });
  answer('DELETE /bedfuls/{id}', async ({ path }) => {
    const row = await bedfuls.remove(path.id);
    told(modelsOf(row), row.projectId);
  });
  send('GET /bedfuls/{id}/file', async ({ path, query: { word }, r }) => {
    const { row } = await bedfuls.one(path.id);
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

  answer('POST /bedfuls/{id}/start', ({ path, body: { at }, q }) => bedfulPrints.start(path.id, toldOf(q, at)));
  answer('POST /bedfuls/{id}/end', async ({ path, body: { hours, note, at, ...lists }, q }) => {
    const stopped = lists.stopped.map((s) => parseParams(StoppedPart, s));
    const taken = lists.taken.map((t) => parseParams(TakenFrom, t));
    return bedfulPrints.end(path.id, { hours, note, stopped, taken }, toldOf(q, at));
  });
  answer('POST /bedfuls/{id}/undo', ({ path, body: { at }, q }) => bedfulPrints.takeBack(path.id, toldOf(q, at)));
  return router;
}
