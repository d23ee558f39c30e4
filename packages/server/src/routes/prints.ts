import { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { CreateLogEntry } from '@jasmorphe/contracts/requests';
import type { LogEntryView, PartView } from '@jasmorphe/contracts/views';
import { instantOf } from '@jasmorphe/core/planning/days/instants';
import { refusalOf, standingOf, takeBackRefusal, type PrintOutcome } from '@jasmorphe/core/planning/printState';
import { Refusal } from '../store/Refusal.ts';
import { check } from '../http/validate.ts';
import type { Statement } from '../store/database.ts';
import { printOf, type LogRow } from '../store/PrintLog.ts';
import { recutsOf } from '../store/recuts.ts';
import type { Services } from '../Services.ts';

const notNow = (message: string, hint = ''): Refusal => new Refusal('state', 'cannot', message, hint, 'outcome');

/** What an entry is about. */
type About = Pick<LogEntryView, 'projectId' | 'modelId' | 'partId' | 'meshHash' | 'tag'>;

/** The entry that takes another back. */
const withdrawal = ({ projectId, modelId, partId, meshHash, tag }: About, correctsId: string): LogRow => ({
  id: randomUUID(),
  projectId,
  modelId,
  partId,
  meshHash,
  tag,
  correctsId,
  outcome: 'withdrawn',
  at: new Date().toISOString(),
});

/** What happens at the printer: entries that are added and never changed. */
export function printRoutes({ library, events }: Services): Router {
  const router = Router();
  const partOf = async (id: string): Promise<{ part: PartView; projectId: string; modelId: string }> => {
    const body = await library.bodies.body(id);
    const { parts } = await library.views.view(body.model.id);
    const part = parts.find((p) => p.id === id);
    if (!part) throw new Refusal('state', 'cannot', 'This part is not in force: its divide was undone or changed.', '');
    return { part, projectId: body.projectId, modelId: body.model.id };
  };
  const logOf = async (projectId: string): Promise<LogEntryView[]> => {
    const { modelIds } = await library.projects.project(projectId);
    return library.prints.log(projectId, recutsOf((await library.views.viewsOf(modelIds)).values()));
  };
  const told = ({ modelId, partId, projectId }: Pick<LogRow, 'modelId' | 'partId' | 'projectId'>): void => {
    for (const bodyId of [modelId!, partId]) events.send({ type: 'body', bodyId, projectId });
  };
  /** @param holds throws when the entry does not follow any more, asked while nothing else is written */
  const add = async (
    row: LogRow,
    holds: () => Promise<void>,
    beside: readonly Statement[] = [],
  ): Promise<LogEntryView> => {
    await holds();
    await library.prints.add([row], holds, beside);
    told(row);
    return (await logOf(row.projectId)).find((e) => e.id === row.id)!;
  };
  /** All entries about a mesh, in the order in which they were made. */
  const eventsOf = async ({ modelId, meshHash }: Pick<About, 'modelId' | 'meshHash'>) =>
    (await library.prints.eventsOf([modelId])).get(modelId)?.get(meshHash) ?? [];
  /** Refuses a withdrawal that puts a part back on a bed which another bedful has by now. */
  const bedIsFree = async (about: About, row: LogRow): Promise<void> => {
    const before = await eventsOf(about);
    const then = [...before, { ...row, heightMm: null, correctsId: row.correctsId ?? null }];
    if (standingOf(before).state === 'printing' || standingOf(then).state !== 'printing') return;
    const { lastId } = standingOf(then);
    const start = (await logOf(about.projectId)).find((e) => e.id === lastId);
    if (start?.bedfulId && start.printerId) await library.bedfuls.mustBeFree(start.printerId, start.bedfulId);
  };
  /** Takes back what was said last of a mesh. @throws Refusal where it was not */
  const takeBack = (about: About, id: string): Promise<LogEntryView> => {
    const row = withdrawal(about, id);
    return add(row, async () => {
      await bedIsFree(about, row);
      const views = await library.views.viewsOf([about.modelId]);
      const recut = recutsOf(views.values()).has(printOf(about));
      const refusal = takeBackRefusal({ id, tag: about.tag }, await eventsOf(about), recut);
      if (refusal) throw notNow(refusal);
    });
  };
  /** The bedful that a part which comes off, or stops, was started with, and its printer; what is started by itself has none. */
  const startedWith = async (
    modelId: string,
    part: PartView,
    outcome: PrintOutcome,
    printerId: string | undefined,
  ): Promise<Pick<LogRow, 'bedfulId' | 'printerId'>> => {
    if (outcome !== 'passed' && outcome !== 'failed') return { printerId: printerId ?? null };
    const start = (await library.prints.inForceOf([modelId])).findLast(
      (e) => e.meshHash === part.mesh.hash && e.outcome === 'started',
    );
    return { bedfulId: start?.bedfulId ?? null, printerId: printerId ?? start?.printerId ?? null };
  };
  router.get('/projects/:id/log', async (q, r) => void r.json(await logOf(q.params.id)));
  router.post('/projects/:id/log', async (q, r) => {
    await library.projects.mustExist(q.params.id);
    const entry = check(CreateLogEntry, q.body);
    if (entry.outcome === 'withdrawn') {
      // about the mesh that the entry was about, which need not be the one that the part has now
      const about = (await logOf(q.params.id)).find((e) => e.id === entry.correctsId);
      if (!about || about.outcome === 'withdrawn')
        throw new Refusal('request', 'bad-params', 'There is no such entry to take back.', '', 'correctsId');
      r.status(201).json(await takeBack(about, about.id));
      return;
    }
    const { part, projectId, modelId } = await partOf(entry.partId);
    if (projectId !== q.params.id) throw Refusal.notFound('part', entry.partId);
    const { outcome } = entry;
    // two tabs may say the same at once: the second is told that it is said already
    const follows = async () => {
      const refusal = refusalOf((await partOf(entry.partId)).part.state, outcome);
      if (refusal) throw notNow(refusal);
    };
    await follows();
    if (entry.spoolId !== undefined) await library.workshop.mustHaveSpool(entry.spoolId);
    if (entry.outcome === 'failed') {
      if (entry.heightMm === undefined)
        throw new Refusal(
          'request',
          'bad-params',
          'A print that stopped needs the height it reached.',
          'Measure what stands with calipers; 0 if nothing does.',
          'heightMm',
        );
      // calipers may read a little more than the file has
      if (entry.heightMm > part.heightMm + 0.5)
        throw new Refusal(
          'request',
          'bad-params',
          `${part.tag} is ${part.heightMm.toFixed(1)} mm high as it lies on the bed; it cannot have stopped at ${entry.heightMm} mm.`,
          'Check the reading.',
          'heightMm',
        );
    }
    const id = randomUUID();
    r.status(201).json(
      await add(
        {
          id,
          projectId,
          modelId,
          partId: entry.partId,
          meshHash: part.mesh.hash,
          tag: part.tag,
          ...(await startedWith(modelId, part, outcome, entry.printerId)),
          outcome: entry.outcome,
          heightMm: entry.heightMm ?? null,
          durationS: entry.durationS ?? null,
          materialG: entry.materialG ?? null,
          note: entry.note,
          at: (entry.at === undefined ? new Date() : new Date(instantOf(entry.at, 'at'))).toISOString(),
        },
        follows,
        entry.spoolId !== undefined && entry.materialG !== undefined
          ? [
              library.workshop.spoolStatement(
                entry.spoolId,
                { kind: 'used', grams: entry.materialG, note: `${part.tag}, ${entry.outcome}` },
                id,
              ),
            ]
          : [],
      ),
    );
  });
  // undo and redo of what was said of a part at the printer; a recut is a step of its line
  for (const way of ['undo', 'redo'] as const)
    router.post(`/bodies/:id/print/${way}`, async (q, r) => {
      const { part, projectId, modelId } = await partOf(q.params.id);
      const about: About = { projectId, modelId, partId: part.id, meshHash: part.mesh.hash, tag: part.tag };
      const targetOf = async (): Promise<string | null> => {
        const { lastId, redoId } = standingOf(await eventsOf(about));
        return way === 'undo' ? lastId : redoId;
      };
      const target = await targetOf();
      if (target) {
        const row = withdrawal(about, target);
        await add(row, async () => {
          await bedIsFree(about, row);
          // of two that are asked for at once the second is about what the first left, and is asked for anew
          if ((await targetOf()) !== target) throw notNow('Something was said of it meanwhile.', 'Look again.');
        });
      } else {
        const asked = way === 'undo' ? part.canUndoPrint : part.canRedoPrint;
        // what Lay out chose is taken back there
        if (!asked) throw new Refusal('state', `nothing-to-${way}`, `There is nothing to ${way}.`, '');
        await library.bodies.move(part.id, way, async (body) => {
          if ((await library.views.view(body.id)).busyJobId)
            throw new Refusal('state', 'busy', 'A job is still at work on this part.', 'Wait for it, or cancel it.');
        });
        told(about);
      }
      r.json((await partOf(q.params.id)).part);
    });
  return router;
}
