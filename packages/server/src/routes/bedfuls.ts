import { Router } from 'express';
import { randomUUID } from 'node:crypto';
import {
  ChangeBedful,
  EndBedful,
  KeepBedfuls,
  MoveBedful,
  StartBedful,
  StoppedPart,
  TakenFrom,
} from '@jasmorphe/contracts/dayRequests';
import type { BedfulPartView, ProjectBedsView } from '@jasmorphe/contracts/dayViews';
import { ExportQuery } from '@jasmorphe/contracts/requests';
import { gluedFaces } from '@jasmorphe/contracts/poses';
import { isStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { instantOf } from '@jasmorphe/core/planning/days/instants';
import { takeBackRefusal } from '@jasmorphe/core/planning/printState';
import { countOf } from '@jasmorphe/core/words/numbers';
import { forbidsAltered, termsOf } from '@jasmorphe/core/trade/licences';
import { exportPlaced } from '../exportFile.ts';
import { fileWordsOf } from '../fileWords.ts';
import { onOtherPrinter } from '../moveBedful.ts';
import { Refusal } from '../store/Refusal.ts';
import { check } from '../http/validate.ts';
import { modelOf, modelsOf, ownTagOf, type BedfulRow } from '../store/bedfulViews.ts';
import type { Statement } from '../store/database.ts';
import { printOf, type LogRow } from '../store/PrintLog.ts';
import { recutsOf } from '../store/recuts.ts';
import { disposition, noDerivatives } from './projects.ts';
import type { Services } from '../Services.ts';

/** An instant as it is kept. @throws MeshError `bad-params` where only a year is said, or a week */
const wholeInstant = (text: string, field: string): string => new Date(instantOf(text, field)).toISOString();

const refused = (message: string, hint = ''): Refusal => new Refusal('state', 'cannot', message, hint);

/** What is said of one part of a bedful. */
const entryOf = (
  row: BedfulRow,
  part: BedfulRow['parts'][number],
  more: Pick<LogRow, 'outcome' | 'at'> & Partial<LogRow>,
): LogRow => ({
  id: randomUUID(),
  projectId: row.projectId,
  modelId: modelOf(row, part),
  partId: part.partId,
  meshHash: part.mesh,
  tag: ownTagOf(part),
  printerId: row.printerId,
  bedfulId: row.id,
  ...more,
});

/** @throws Refusal where the part does not print, or stopped higher than it is */
function checkStop(row: BedfulRow, on: readonly BedfulPartView[], { tag, heightMm }: StoppedPart): void {
  const part = on.find((p) => p.tag === tag);
  if (!part) throw refused(`${tag} is not printing in bedful ${row.number}.`);
  // calipers may read a little more than the file has
  if (heightMm > part.heightMm + 0.5)
    throw new Refusal(
      'request',
      'bad-params',
      `${tag} is ${part.heightMm.toFixed(1)} mm high as it lies; it cannot have stopped at ${heightMm} mm.`,
      'Check the reading.',
      'stopped',
    );
}

/**
 * What is said of the parts of a bedful that comes off: its hours go by the hours that each part takes, what was taken
 * from spools by their grams, so that each share comes back with what is said of its part.
 *
 * @param on parts that print
 */
function ofEnd(row: BedfulRow, on: readonly BedfulPartView[], { hours, stopped, taken, note }: EndBedful) {
  const at = new Date().toISOString();
  const parts = row.parts.filter((part) => on.some((p) => p.tag === part.tag));
  const shareOf = (of: (part: (typeof parts)[number]) => number) => {
    const sum = parts.reduce((n, p) => n + of(p), 0);
    return (part: (typeof parts)[number]): number => (sum > 0 ? of(part) / sum : 1 / parts.length);
  };
  const [byHours, byGrams] = [shareOf((p) => p.durationS), shareOf((p) => p.materialG)];
  const usedG = taken.reduce((n, t) => n + t.grams, 0);
  const said = parts.map((part) => {
    const stop = stopped.find((s) => s.tag === part.tag);
    const entry = entryOf(row, part, {
      outcome: stop ? 'failed' : 'passed',
      heightMm: stop?.heightMm ?? null,
      durationS: hours === undefined ? null : hours * 3600 * byHours(part),
      materialG: taken.length === 0 ? null : usedG * byGrams(part),
      note,
      at,
    });
    return { part, entry };
  });
  return {
    entries: said.map((s) => s.entry),
    shares: taken.flatMap(({ spoolId, grams }) =>
      said.map(({ part, entry }) => ({ spoolId, grams: grams * byGrams(part), of: entry })),
    ),
  };
}

/** Bedfuls that were decided: kept, arranged, sent, and off the bed again. */
export function bedfulRoutes(services: Services): Router {
  const { library, events } = services;
  const { bedfuls, prints, workshop } = library;
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
        const parts = v.parts.filter((p) => p.state === 'planned');
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

  const write = async (row: BedfulRow, entries: LogRow[], holds: () => Promise<void>, beside: Statement[] = []) => {
    await holds();
    await prints.add(entries, holds, beside);
    told([...modelsOf(row), ...row.parts.map((p) => p.partId)], row.projectId);
    return (await bedfuls.one(row.id)).view;
  };

  router.post('/bedfuls/:id/start', async (q, r) => {
    const { at: given } = check(StartBedful, q.body ?? {});
    const at = given === undefined ? new Date().toISOString() : wholeInstant(given, 'at');
    const { row } = await bedfuls.one(q.params.id);
    const holds = async (): Promise<void> => {
      const { view } = await bedfuls.one(row.id);
      const called = async (b: Pick<BedfulRow, 'number' | 'projectId'>) =>
        `Bedful ${b.number} of ${(await library.kits.work(b.projectId)).name}`;
      if (view.state !== 'waiting')
        throw refused(`${await called(view)} was sent already.`, 'Say at Print, or under Days, what became of it.');
      const odd = view.parts.find((p) => p.trouble !== null);
      if (odd)
        throw refused(
          `${odd.tag} is not what it was when ${(await called(view)).replace(/^B/, 'b')} was kept.`,
          'Plan the bedfuls anew at Lay out; nothing of this one is lost.',
        );
      if (view.printerId === null)
        throw refused(
          `${view.printer} is gone, or no longer printed with: ${(await called(view)).replace(/^B/, 'b')} has no bed.`,
          'Move it to another printer under Days, or plan the bedfuls anew at Lay out.',
        );
      await bedfuls.mustBeFree(view.printerId, row.id);
    };
    r.status(201).json(
      await write(
        row,
        row.parts.map((part) => entryOf(row, part, { outcome: 'started', at })),
        holds,
      ),
    );
  });

  router.post('/bedfuls/:id/end', async (q, r) => {
    const { hours, note, ...lists } = check(EndBedful, q.body ?? {});
    const stopped = lists.stopped.map((s) => parseParams(StoppedPart, s));
    const taken = lists.taken.map((t) => parseParams(TakenFrom, t));
    const { row } = await bedfuls.one(q.params.id);
    const printing = async () => (await bedfuls.one(row.id)).view.parts.filter((p) => p.state === 'printing');
    const on = await printing();
    const holds = async (): Promise<void> => {
      const now = await printing();
      if (now.length === 0 || (await bedfuls.one(row.id)).view.state !== 'printing')
        throw refused(`Bedful ${row.number} is not on a bed.`);
      if (now.length !== on.length) throw refused('Something was said of it meanwhile.', 'Look again.');
    };
    for (const stop of stopped) checkStop(row, on, stop);
    for (const t of taken) await workshop.mustHaveSpool(t.spoolId);
    const { entries, shares } = ofEnd(row, on, { hours, stopped, taken, note });
    const draws = shares.map(({ spoolId, grams, of }) =>
      workshop.spoolStatement(spoolId, { kind: 'used', grams, note: `Bedful ${row.number}, ${of.tag}` }, of.id),
    );
    r.status(201).json(await write(row, entries, holds, draws));
  });

  // what was said last of a bedful is taken back: that it came off, or that it was started
  router.post('/bedfuls/:id/undo', async (q, r) => {
    const { row } = await bedfuls.one(q.params.id);
    const log = (await prints.inForceOf(modelsOf(row))).filter(
      (e) => e.bedfulId === row.id && e.outcome !== 'withdrawn',
    );
    const last = log.at(-1);
    if (!last) throw new Refusal('state', 'nothing-to-undo', 'Nothing was said of it.', '');
    // what was said in one go is taken back in one go
    const back = log.filter((e) => e.at === last.at && (e.outcome === 'started') === (last.outcome === 'started'));
    const at = new Date().toISOString();
    const holds = async (): Promise<void> => {
      const events = await prints.eventsOf(modelsOf(row));
      const recut = recutsOf(await viewsOf(row));
      // an end that is taken back puts it on its bed again
      const { printerId } = (await bedfuls.one(row.id)).view;
      if (last.outcome !== 'started' && printerId !== null) await bedfuls.mustBeFree(printerId, row.id);
      for (const e of back) {
        const refusal = takeBackRefusal(e, events.get(e.modelId)?.get(e.meshHash) ?? [], recut.has(printOf(e)));
        if (refusal) throw refused(refusal);
      }
    };
    r.json(
      await write(
        row,
        back.map((e) => {
          const part = row.parts.find((p) => p.mesh === e.meshHash && modelOf(row, p) === e.modelId)!;
          return { ...entryOf(row, part, { outcome: 'withdrawn', at }), correctsId: e.id };
        }),
        holds,
      ),
    );
  });
  return router;
}
