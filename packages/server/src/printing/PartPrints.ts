import { randomUUID } from 'node:crypto';
import type { CreateLogEntry } from '@jasmorphe/contracts/requests';
import type { LogEntryView, PartView } from '@jasmorphe/contracts/views';
import { isPrinting, refusalOf, standingOf, takeBackRefusal } from '@jasmorphe/core/planning/printState';
import type { Once, Told } from '../store/Answers.ts';
import type { Statement } from '../store/database.ts';
import type { Library } from '../store/Library.ts';
import { printOf, type LogRow } from '../store/PrintLog.ts';
import { recutsOf } from '../store/recuts.ts';
import { Refusal } from '../store/Refusal.ts';
import type { Teller } from '../store/Teller.ts';
import { mustReach, saidOf, withdrawal, type About, type Said } from './said.ts';

const notNow = (message: string, hint = ''): Refusal => new Refusal('state', 'cannot', message, hint, 'outcome');

/** A part that is in force, and where it belongs. */
interface Found {
  part: PartView;
  projectId: string;
  modelId: string;
}

const aboutOf = ({ part, projectId, modelId }: Found): About => ({
  projectId,
  modelId,
  partId: part.id,
  meshHash: part.mesh.hash,
  tag: part.tag,
});

/** What is said of a part, but for its time. */
export type PartWord = Omit<CreateLogEntry, 'at'>;

/** What happened to single parts at the printer: entries that are added and never changed. */
export class PartPrints {
  constructor(
    private readonly library: Library,
    private readonly teller: Teller,
  ) {}

  /** Entries of a project, the newest first. @throws Refusal `not-found` */
  async log(projectId: string): Promise<LogEntryView[]> {
    const { prints, projects, views } = this.library;
    const { modelIds } = await projects.project(projectId);
    return prints.log(projectId, recutsOf((await views.viewsOf(modelIds)).values()));
  }

  /**
   * What became of a part, or that an entry was wrong.
   *
   * @throws Refusal `cannot` where it does not follow from what was said before; `bad-params`, `not-found`, `key-used`
   */
  async say(projectId: string, word: PartWord, told: Told): Promise<LogEntryView> {
    await this.library.projects.mustExist(projectId);
    const id = randomUUID();
    return this.library.answers.once(told.key, ['log', projectId, word, told.at], {
      about: id,
      act: async (once) => {
        const said = saidOf(told);
        if (word.outcome !== 'withdrawn') return this.enter(projectId, word, { id, ...said }, once);
        // about the mesh that the entry was about, which need not be the one that the part has now
        const about = (await this.log(projectId)).find((e) => e.id === word.correctsId);
        if (!about || about.outcome === 'withdrawn')
          throw new Refusal('request', 'bad-params', 'There is no such entry to take back.', '', 'correctsId');
        return this.takeBack(about, about.id, { id, ...said }, once);
      },
      answer: async (made) => {
        const entry = (await this.log(projectId)).find((e) => e.id === made);
        if (!entry) throw Refusal.notFound('entry', made);
        return entry;
      },
    });
  }

  /**
   * Takes back what was said last of a part, or says it again after all; where nothing was said of the rest of one that stopped,
   * its recut is taken back.
   *
   * @throws Refusal `nothing-to-undo`, `nothing-to-redo`; `cannot` where something else was said meanwhile; `busy`, `key-used`
   */
  move(bodyId: string, way: 'undo' | 'redo', told: Told): Promise<PartView> {
    return this.library.answers.once(told.key, ['part', bodyId, way, told.at], {
      about: bodyId,
      act: async (once) => this.moveOnce(await this.found(bodyId), way, saidOf(told), once),
      answer: async (id) => (await this.found(id)).part,
    });
  }

  private async moveOnce(found: Found, way: 'undo' | 'redo', said: Said, once: Once): Promise<void> {
    const about = aboutOf(found);
    const targetOf = async (): Promise<string | null> => {
      const { lastId, redoId } = standingOf(await this.eventsOf(about));
      return way === 'undo' ? lastId : redoId;
    };
    const target = await targetOf();
    if (target) {
      const row = withdrawal(about, target, { id: randomUUID(), ...said });
      const holds = async (): Promise<void> => {
        await this.bedIsFree(about, row);
        // of two that are asked for at once the second is about what the first left, and is asked for anew
        if ((await targetOf()) !== target) throw notNow('Something was said of it meanwhile.', 'Look again.');
      };
      return this.add(row, holds, once);
    }
    const asked = way === 'undo' ? found.part.canUndoPrint : found.part.canRedoPrint;
    // what Lay out chose is taken back there
    if (!asked) throw new Refusal('state', `nothing-to-${way}`, `There is nothing to ${way}.`, '');
    const idle = async (body: { id: string }): Promise<void> => {
      if ((await this.library.views.view(body.id)).busyJobId)
        throw new Refusal('state', 'busy', 'A job is still at work on this part.', 'Wait for it, or cancel it.');
    };
    await this.library.bodies.move(found.part.id, way, idle, once);
    this.tell(about);
  }

  /** @throws Refusal `cannot` where the part is none of those in force */
  private async found(id: string): Promise<Found> {
    const body = await this.library.bodies.body(id);
    const { parts } = await this.library.views.view(body.model.id);
    const part = parts.find((p) => p.id === id);
    if (!part) throw new Refusal('state', 'cannot', 'This part is not in force: its divide was undone or changed.', '');
    return { part, projectId: body.projectId, modelId: body.model.id };
  }

  private tell({ modelId, partId, projectId }: Pick<About, 'modelId' | 'partId' | 'projectId'>): void {
    for (const bodyId of [modelId, partId]) this.teller.send({ type: 'body', bodyId, projectId });
  }

  /** All entries about a mesh, in the order in which they were made. */
  private async eventsOf({ modelId, meshHash }: Pick<About, 'modelId' | 'meshHash'>) {
    return (await this.library.prints.eventsOf([modelId])).get(modelId)?.get(meshHash) ?? [];
  }

  /** @param holds throws when the entry does not follow any more, asked while nothing else is written */
  private async add(
    row: LogRow & About,
    holds: () => Promise<void>,
    once: Once,
    beside: readonly Statement[] = [],
  ): Promise<void> {
    await holds();
    const both = async (): Promise<void> => {
      await once.holds();
      await holds();
    };
    await this.library.prints.add([row], both, [...beside, ...once.beside]);
    this.tell(row);
  }

  /** Refuses a withdrawal that puts a part back on a bed which another bedful has by now. */
  private async bedIsFree(about: About, row: LogRow): Promise<void> {
    const before = await this.eventsOf(about);
    const then = [...before, { ...row, heightMm: null, correctsId: row.correctsId ?? null }];
    if (isPrinting(standingOf(before)) || !isPrinting(standingOf(then))) return;
    const { lastId } = standingOf(then);
    const start = (await this.log(about.projectId)).find((e) => e.id === lastId);
    if (start?.bedfulId && start.printerId) await this.library.bedfuls.mustBeFree(start.printerId, start.bedfulId);
  }

  /** Takes back what was said last of a mesh. @throws Refusal where it was not */
  private takeBack(about: About, id: string, made: Said & { id: string }, once: Once): Promise<void> {
    const row = withdrawal(about, id, made);
    const holds = async (): Promise<void> => {
      await this.bedIsFree(about, row);
      const views = await this.library.views.viewsOf([about.modelId]);
      const recut = recutsOf(views.values()).has(printOf(about));
      const refusal = takeBackRefusal({ id, tag: about.tag }, await this.eventsOf(about), recut);
      if (refusal) throw notNow(refusal);
    };
    return this.add(row, holds, once);
  }

  private async enter(projectId: string, word: PartWord, made: Said & { id: string }, once: Once): Promise<void> {
    const found = await this.found(word.partId);
    const { part } = found;
    if (found.projectId !== projectId) throw Refusal.notFound('part', word.partId);
    const { outcome, spoolId, materialG, heightMm } = word;
    // two tabs may say the same at once: the second is told that it is said already
    const follows = async (): Promise<void> => {
      const refusal = refusalOf((await this.found(word.partId)).part.state, outcome);
      if (refusal) throw notNow(refusal);
      if (spoolId !== undefined) await this.library.workshop.mustHaveSpool(spoolId);
    };
    await follows();
    if (outcome === 'failed') {
      if (heightMm === undefined)
        throw new Refusal(
          'request',
          'bad-params',
          'A print that stopped needs the height it reached.',
          'Measure what stands with calipers; 0 if nothing does.',
          'heightMm',
        );
      mustReach({ ...part, lies: ' on the bed' }, heightMm, 'heightMm');
    }
    const row = {
      ...aboutOf(found),
      ...(await this.startedWith(found, word)),
      outcome,
      heightMm: heightMm ?? null,
      durationS: word.durationS ?? null,
      materialG: materialG ?? null,
      note: word.note,
      ...made,
    };
    const took = { kind: 'used', grams: materialG ?? 0, note: `${part.tag}, ${outcome}` } as const;
    const draws =
      spoolId !== undefined && materialG !== undefined
        ? [this.library.workshop.spoolStatement(spoolId, took, row)]
        : [];
    await this.add(row, follows, once, draws);
  }

  /** The bedful that a part which comes off, or stops, was started with, and its printer; what is started by itself has none. */
  private async startedWith(
    { part, modelId }: Found,
    { outcome, printerId }: PartWord,
  ): Promise<Pick<LogRow, 'bedfulId' | 'printerId'>> {
    if (outcome !== 'passed' && outcome !== 'failed') return { printerId: printerId ?? null };
    const start = (await this.library.prints.inForceOf([modelId])).findLast(
      (e) => e.meshHash === part.mesh.hash && e.outcome === 'started',
    );
    return { bedfulId: start?.bedfulId ?? null, printerId: printerId ?? start?.printerId ?? null };
  }
}
