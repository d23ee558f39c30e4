import { Router } from 'express';
import { randomUUID } from 'node:crypto';
import {
  ChangeBedful,
  EndBedful,
  KeepBedfuls,
  StartBedful,
  StoppedPart,
  TakenFrom,
} from '@jasmorphe/contracts/dayRequests';
import { ExportQuery } from '@jasmorphe/contracts/requests';
import { forbidsAltered, termsOf } from '@jasmorphe/core/trade/licences';
import { isStepOf } from '@jasmorphe/contracts/steps';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { calendarFile } from '@jasmorphe/core/planning/days/calendarFile';
import { instantOf } from '@jasmorphe/core/planning/days/instants';
import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { ApiError } from '../http/ApiError.ts';
import { check } from '../http/validate.ts';
import { daysOf, daysOtherwise } from '../days.ts';
import { exportPlaced } from '../exportFile.ts';
import type { BedfulRow } from '../store/Bedfuls.ts';
import type { Statement } from '../store/database.ts';
import type { LogRow } from '../store/PrintLog.ts';
import { disposition, noDerivatives } from './projects.ts';
import type { Services } from '../Services.ts';

/** An instant as it is kept. @throws MeshError `bad-params` where only a year is said, or a week */
const wholeInstant = (text: string, field: string): string => new Date(instantOf(text, field)).toISOString();

const refused = (message: string, hint = ''): ApiError => new ApiError(409, 'cannot', message, hint);

/** Bedfuls that were decided, and the days on which they are printed. */
export function dayRoutes(services: Services): Router {
  const { library, events } = services;
  const { bedfuls, prints, workshop } = library;
  const router = Router();
  const told = (modelId: string, projectId: string): void => events.send({ type: 'body', bodyId: modelId, projectId });

  router.get('/days', async (_q, r) => void r.json(await daysOf(services)));
  router.get('/days/calendar.ics', async (_q, r) => {
    const { plan } = await daysOf(services);
    r.set({ 'Content-Type': 'text/calendar; charset=utf-8', 'Content-Disposition': disposition('days.ics') });
    r.end(calendarFile(plan, Date.now()));
  });
  router.get('/days/otherwise', async (_q, r) => void r.json(await daysOtherwise(services)));
  router.post('/plans', async (q, r) => {
    const { plan } = await services.pool.plan({
      request: check(PlanRequest, q.body),
      nowMs: Date.now(),
      otherwise: false,
    });
    r.json(plan);
  });

  router.get('/bodies/:id/bedfuls', async (q, r) => {
    const { model } = await library.bodies.body(q.params.id);
    r.json(await bedfuls.ofModel(model.id));
  });
  router.post('/bodies/:id/bedfuls', async (q, r) => {
    const { stepId } = check(KeepBedfuls, q.body);
    const { model, projectId } = await library.bodies.body(q.params.id);
    const step = await library.meshes.step(stepId);
    if (!step || !isStepOf(step, catalogue.bedfuls)) throw ApiError.notFound('plan of bedfuls', stepId.slice(0, 12));
    await bedfuls.keep(model.id, step);
    told(model.id, projectId);
    r.status(201).json(await bedfuls.ofModel(model.id));
  });
  router.post('/bodies/:id/bedfuls/undo', async (q, r) => {
    const { model, projectId } = await library.bodies.body(q.params.id);
    await bedfuls.undo(model.id);
    told(model.id, projectId);
    r.json(await bedfuls.ofModel(model.id));
  });
  router.get('/bedfuls/:id', async (q, r) => void r.json((await bedfuls.one(q.params.id)).view));
  router.patch('/bedfuls/:id', async (q, r) => {
    const { wantedAt } = check(ChangeBedful, q.body);
    const { row } = await bedfuls.one(q.params.id);
    const view = await bedfuls.want(row.id, wantedAt ? wholeInstant(wantedAt, 'wantedAt') : null);
    told(row.modelId, row.projectId);
    r.json(view);
  });
  router.delete('/bedfuls/:id', async (q, r) => {
    const { modelId, projectId } = await bedfuls.remove(q.params.id);
    told(modelId, projectId);
    r.status(204).end();
  });
  router.get('/bedfuls/:id/file', async (q, r) => {
    const { word } = check(ExportQuery, q.query);
    const { row } = await bedfuls.one(q.params.id);
    const view = await library.views.view(row.modelId);
    if (forbidsAltered(termsOf(view, await library.kits.terms(view.projectId))) && word !== 'yes')
      throw noDerivatives([view.name]);
    const { name, type, bytes } = await exportPlaced(services, view.name, row.number, row.printerName, row.parts);
    r.set({ 'Content-Type': type, 'Content-Disposition': disposition(name) });
    r.end(bytes);
  });

  /** Entries that say the same of several parts of a bedful. */
  const entry = (
    row: BedfulRow,
    part: BedfulRow['parts'][number],
    more: Pick<LogRow, 'outcome' | 'at'> & Partial<LogRow>,
  ): LogRow => ({
    id: randomUUID(),
    projectId: row.projectId,
    modelId: row.modelId,
    partId: part.partId,
    meshHash: part.mesh,
    tag: part.tag,
    printerId: row.printerId,
    bedfulId: row.id,
    ...more,
  });
  const write = async (row: BedfulRow, entries: LogRow[], holds: () => Promise<void>, beside: Statement[] = []) => {
    await holds();
    await prints.addAll(entries, holds, beside);
    told(row.modelId, row.projectId);
    for (const { partId } of row.parts) told(partId, row.projectId);
    return (await bedfuls.one(row.id)).view;
  };

  router.post('/bedfuls/:id/start', async (q, r) => {
    const { at: given } = check(StartBedful, q.body ?? {});
    const at = given === undefined ? new Date().toISOString() : wholeInstant(given, 'at');
    const { row } = await bedfuls.one(q.params.id);
    const holds = async (): Promise<void> => {
      const { view } = await bedfuls.one(row.id);
      if (view.state !== 'waiting') throw refused(`Bedful ${view.number} was sent already.`);
      const odd = view.parts.find((p) => p.trouble !== null);
      if (odd)
        throw refused(
          `${odd.tag} is not what it was when bedful ${view.number} was kept.`,
          'Plan the bedfuls anew at Lay out; nothing of this one is lost.',
        );
      if (view.printerId === null)
        throw refused(`${view.printer} is gone, or no longer printed with.`, 'Plan the bedfuls anew for another.');
      const on = (await bedfuls.told(await bedfuls.allRows())).find(
        (b) => b.state === 'printing' && b.printerId === view.printerId,
      );
      if (on) throw refused(`Bedful ${on.number} is on the bed of ${view.printer}.`, 'Say first what became of it.');
    };
    r.status(201).json(
      await write(
        row,
        row.parts.map((part) => entry(row, part, { outcome: 'started', at })),
        holds,
      ),
    );
  });

  router.post('/bedfuls/:id/end', async (q, r) => {
    const { hours, stopped: given, taken, note } = check(EndBedful, q.body ?? {});
    const stopped = given.map((s) => parseParams(StoppedPart, s));
    const { row } = await bedfuls.one(q.params.id);
    const printing = async () => (await bedfuls.one(row.id)).view.parts.filter((p) => p.state === 'printing');
    const on = await printing();
    const holds = async (): Promise<void> => {
      const now = await printing();
      if (now.length === 0 || (await bedfuls.one(row.id)).view.state !== 'printing')
        throw refused(`Bedful ${row.number} is not on a bed.`);
      if (now.length !== on.length) throw refused('Something was said of it meanwhile.', 'Look again.');
    };
    for (const { tag, heightMm } of stopped) {
      const part = on.find((p) => p.tag === tag);
      if (!part) throw refused(`${tag} is not printing in bedful ${row.number}.`);
      // calipers may read a little more than the file has
      if (heightMm > part.heightMm + 0.5)
        throw new ApiError(
          400,
          'bad-params',
          `${tag} is ${part.heightMm.toFixed(1)} mm high as it lies; it cannot have stopped at ${heightMm} mm.`,
          'Check the reading.',
          'stopped',
        );
    }
    const at = new Date().toISOString();
    const sumS = on.reduce((n, p) => n + p.durationS, 0);
    const sumG = on.reduce((n, p) => n + p.materialG, 0);
    const usedG = taken.reduce((n, t) => n + t.grams, 0);
    const entries = row.parts
      .filter((part) => on.some((p) => p.meshHash === part.mesh))
      .map((part) => {
        const stop = stopped.find((s) => s.tag === part.tag);
        return entry(row, part, {
          outcome: stop ? 'failed' : 'passed',
          heightMm: stop?.heightMm ?? null,
          durationS: hours === undefined || sumS === 0 ? null : (hours * 3600 * part.durationS) / sumS,
          materialG: taken.length === 0 || sumG === 0 ? null : (usedG * part.materialG) / sumG,
          note,
          at,
        });
      });
    const draws: Statement[] = [];
    for (const { spoolId, grams } of taken.map((x) => parseParams(TakenFrom, x))) {
      await workshop.mustHaveSpool(spoolId);
      // by its parts, so that each share comes back with what is said of its part
      for (const e of entries) {
        const part = row.parts.find((p) => p.mesh === e.meshHash)!;
        const own = sumG > 0 ? (grams * part.materialG) / sumG : grams / entries.length;
        draws.push(
          workshop.spoolStatement(spoolId, { kind: 'used', grams: own, note: `Bedful ${row.number}, ${e.tag}` }, e.id),
        );
      }
    }
    r.status(201).json(await write(row, entries, holds, draws));
  });

  // what was said last of a bedful is taken back: that it came off, or that it was started
  router.post('/bedfuls/:id/undo', async (q, r) => {
    const { row } = await bedfuls.one(q.params.id);
    const log = (await bedfuls.logOf([row.modelId])).filter((e) => e.bedfulId === row.id && e.outcome !== 'withdrawn');
    const last = log.at(-1);
    if (!last) throw new ApiError(409, 'nothing-to-undo', 'Nothing was said of it.', '');
    const group = last.outcome === 'started' ? ['started'] : ['passed', 'failed'];
    const back = log.filter((e) => group.includes(e.outcome));
    const at = new Date().toISOString();
    const holds = async (): Promise<void> => {
      const now = new Set((await bedfuls.logOf([row.modelId])).map((e) => e.id));
      if (!back.every((e) => now.has(e.id))) throw refused('It was taken back already.');
      // what was said after it is about another print
      const all = await bedfuls.logOf([row.modelId]);
      const later = all
        .slice(all.findIndex((e) => e.id === last.id) + 1)
        .find((e) => e.outcome !== 'withdrawn' && back.some((b) => b.meshHash === e.meshHash) && e.bedfulId !== row.id);
      // a part that stopped and was recut goes on as its rest
      const { parts } = await library.views.view(row.modelId);
      const recut = back.find((e) => parts.some((p) => p.id === e.partId && p.mesh.hash !== e.meshHash));
      if (recut) throw refused(`${recut.tag} was recut since.`, 'Take the recut back first, at Print.');
      if (later) throw refused(`${later.tag} has gone on since.`, 'Take that back first, at Print.');
    };
    r.json(
      await write(
        row,
        back.map((e) => {
          const part = row.parts.find((p) => p.mesh === e.meshHash)!;
          return { ...entry(row, part, { outcome: 'withdrawn', at }), correctsId: e.id };
        }),
        holds,
      ),
    );
  });
  return router;
}
