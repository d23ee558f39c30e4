import { randomUUID } from 'node:crypto';
import type { BatchAnswers, BatchView, KitDrop } from '@jasmorphe/contracts/kitViews';
import type { UploadOptions } from '@jasmorphe/contracts/requests';
import { printedCount } from '@jasmorphe/contracts/reading/stakes';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import { fileNameIn, pieceName } from '@jasmorphe/core/kit/pieceNames';
import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { isHeld } from '@jasmorphe/core/planning/printState';
import { countOf } from '@jasmorphe/core/words/numbers';
import { Refusal } from '../store/Refusal.ts';
import { withoutCommonFolder, type Gathered } from '../kit/gatherKit.ts';
import type { BlobStore } from '../store/BlobStore.ts';
import type { Body } from '../store/Bodies.ts';
import type { JobRow } from '../store/JobRows.ts';
import type { Library } from '../store/Library.ts';
import { lieRefusal, partsNow } from '../store/lieStill.ts';
import { refuseLoss } from '../store/Stakes.ts';
import type { BatchPlan } from '../store/schema.ts';
import { stepId } from '../store/stepId.ts';
import type { JobQueue, NewJob } from './JobQueue.ts';
import { codecs } from '../store/codecs.ts';
import { inputsOf, type ImportPayload, type LinePayload } from '../store/payloads.ts';
import { calledOf, fromOf } from './JobRequests.ts';

const now = (): string => new Date().toISOString();

/** Work on many pieces at once: each a job of its own, told, cancelled and undone as one. */
export class BatchRequests {
  constructor(
    private readonly library: Library,
    private readonly blobs: BlobStore,
    private readonly queue: JobQueue,
  ) {
    queue.batchEnded = (id) => this.settle(id);
  }

  /**
   * Reads the files of a drop into a project, each into a piece. Files that are pieces already are told and left out;
   * files of a known name with new bytes are offered as versions.
   */
  async import(projectId: string, gathered: Gathered, reading: UploadOptions): Promise<KitDrop> {
    const pieces = await this.library.kits.files(projectId);
    const drop: KitDrop = { batch: null, known: [], versions: [], refused: gathered.refused, kept: 0 };
    const fresh = new Map<string, { path: string; hash: string; copies: number }>();
    for (const { path, hash } of withoutCommonFolder(gathered.meshes)) {
      const same = pieces.find((p) => p.sourceHash === hash);
      const twin = fresh.get(hash);
      const named = pieces.filter((p) => p.path === path);
      // a file in another folder is another thing, though it may be called the same
      const loose = pieces.filter(
        (p) => fileNameIn(p.path) === fileNameIn(path) && !(p.path.includes('/') && path.includes('/')),
      );
      const older = named.length > 0 ? named : loose;
      if (same) drop.known.push({ file: path, bodyId: same.id, name: same.name });
      else if (twin) twin.copies++;
      else if (older.length === 1)
        drop.versions.push({ file: path, sourceHash: hash, bodyId: older[0].id, name: older[0].name });
      else fresh.set(hash, { path, hash, copies: 1 });
    }
    drop.kept = await this.keepBeside(projectId, gathered);
    const files = [...fresh.values()];
    if (files.length === 0 && gathered.refused.length === 0) return drop;
    const batchId = randomUUID();
    const jobs = files.map(({ path, hash, copies }): NewJob => {
      const payload: ImportPayload = {
        projectId,
        sourceHash: hash,
        fileName: fileNameIn(path),
        path,
        copies,
        licence: reading.licence,
        params: { unit: reading.unit },
        objects: reading.objects,
      };
      return { kind: 'import', title: `Import ${fileNameIn(path)}`, projectId, bodyId: null, batchId, payload };
    });
    await this.queue.addAll(
      jobs,
      [
        this.library.batches.statement({
          id: batchId,
          projectId,
          kind: 'import',
          title: `Read ${countOf(files.length, 'file')}`,
          refused: gathered.refused,
          createdAt: now(),
        }),
      ],
      { projects: [projectId], sources: files.map((f) => f.hash) },
    );
    drop.batch = await this.library.batches.view(batchId);
    return drop;
  }

  /** Keeps pictures and notes that lay beside the meshes, once each. */
  private async keepBeside(projectId: string, { photos, notes }: Gathered): Promise<number> {
    const known = new Set((await this.library.attachments.ofProject(projectId)).map((a) => a.hash ?? a.text));
    let kept = 0;
    for (const { path, hash } of photos) {
      if (known.has(hash)) continue;
      await this.library.attachments.addPhoto(projectId, null, hash, fileNameIn(path), '');
      kept++;
    }
    for (const { path, hash } of notes) {
      const text = (await this.blobs.read('sources', hash)).toString('utf8').replace(/\0/g, '').trim();
      if (text === '' || known.has(text)) continue;
      await this.library.attachments.addNote(projectId, null, text, fileNameIn(path));
      kept++;
    }
    return kept;
  }

  /**
   * Runs one operation on many pieces, each as its card would: a step in force is changed and what follows replays,
   * otherwise one is added. Pieces that cannot be changed now are listed; the others go on.
   */
  async run(
    projectId: string,
    operation: OperationName,
    params: Record<string, unknown>,
    bodyIds: readonly string[],
    dry: boolean,
  ): Promise<BatchView> {
    await this.library.projects.mustExist(projectId);
    const { params: Params, words, name, version, lays } = descriptionOf(operation);
    const checked = { ...parseParams(Params, params) };
    const found = await this.library.views.viewsOf(bodyIds);
    const bodies = await this.library.bodies.bodiesOf(bodyIds);
    const whole = [...bodies.values()].filter((b): b is Body => !(b instanceof Error));
    const laid = lays ? await partsNow(this.library.views, whole) : null;
    const batchId = randomUUID();
    const refused: { file: string; message: string }[] = [];
    const jobs: NewJob[] = [];
    const plan: BatchPlan = { operation, params: checked, members: [] };
    for (const id of new Set(bodyIds)) {
      const body = bodies.get(id);
      const view = found.get(id);
      if (!body || !view || (!(body instanceof Error) && body.projectId !== projectId))
        throw Refusal.notFound('piece', id);
      if (body instanceof Error || view instanceof Error) {
        refused.push({ file: id, message: 'Its record cannot be read. "jasmorphe doctor" tells more.' });
        continue;
      }
      const held = view.parts.filter(isHeld);
      const ahead = dry ? [] : await this.library.stakes.ahead(body);
      const part = laid?.get(id);
      const standing = part && lieRefusal(part);
      if (body.kind === 'model' && lays)
        refused.push({ file: view.name, message: 'A model is laid on the bed by its parts. Divide it first.' });
      else if (body.kind === 'part' && !lays)
        refused.push({ file: view.name, message: 'A part is changed at its own stop, not with the kit.' });
      else if (view.busyJobId !== null)
        refused.push({ file: view.name, message: 'Something is at work on it just now.' });
      else if (body.kind === 'part' && !part)
        refused.push({ file: view.name, message: 'Its divide was undone or changed.' });
      else if (standing && !dry)
        refused.push({ file: view.name, message: `${standing} Say how that print ended first.` });
      else if (held.length > 0 && !dry)
        refused.push({
          file: view.name,
          message: `${countOf(held.length, 'part')} of it ${held.length === 1 ? 'is' : 'are'} printed or on the bed. Change it at its own stop, where what that does to them is shown.`,
        });
      else if (ahead.length > 0)
        refused.push({
          file: view.name,
          message: `Only Redo brings ${printedCount(ahead)} back. Redo, or change it at its own stop, where that is asked.`,
        });
      else {
        const { from, planned, input } = this.lineOf(body, operation, checked);
        plan.members.push({ bodyId: id, input });
        if (!dry) {
          const payload: LinePayload = { bodyId: id, from, planned, lose: false };
          jobs.push({
            kind: 'line',
            title: `${words.title}: ${calledOf(body)}`,
            projectId,
            bodyId: id,
            batchId,
            payload,
          });
          continue;
        }
        const inputs = inputsOf({ operation, params: checked }, input);
        if (!(await this.library.meshes.knownStep(stepId(name, version, checked, inputs)))) {
          const payload = { bodyId: id, inputs, operation, params: checked };
          const title = `Work out ${words.title.toLowerCase()}: ${calledOf(body)}`;
          jobs.push({ kind: 'preview', title, projectId, bodyId: id, batchId, payload });
        }
      }
    }
    await this.queue.addAll(
      jobs,
      [
        this.library.batches.statement({
          id: batchId,
          projectId,
          kind: dry ? 'preview' : 'line',
          title: `${words.title}, ${countOf(plan.members.length, lays ? 'part' : 'piece')}`,
          plan,
          refused,
          createdAt: now(),
        }),
      ],
      { projects: [projectId], bodies: plan.members.map((m) => m.bodyId) },
    );
    return this.library.batches.view(batchId);
  }

  /** Where an operation goes in a body's line, and what it works on there. */
  private lineOf(body: Body, operation: OperationName, params: Record<string, unknown>) {
    if (descriptionOf(operation).lays) {
      const from = fromOf(body, { operation });
      return { from, planned: [{ operation, params }], input: this.library.bodies.meshAfter(body, from) };
    }
    const step = lastStepOf(body.line, body.cursor, { name: operation });
    const from = step ? body.line.lastIndexOf(step as Body['line'][number], body.cursor - 1) : body.cursor;
    const later = step ? body.line.slice(from + 1, body.cursor) : [];
    return {
      from,
      planned: [{ operation, params }, ...later.map((s) => ({ operation: s.operation, params: s.params }))],
      input: this.library.bodies.meshAfter(body, from),
    };
  }

  /** What an operation gives on each piece of a batch, as far as it is known. */
  async answers(id: string): Promise<BatchAnswers> {
    const { plan } = await this.library.batches.row(id);
    if (!plan) throw new Refusal('state', 'cannot', 'This work reads files; it runs no operation.', '');
    const { name, version } = descriptionOf(plan.operation);
    const ids = plan.members.map((m) => stepId(name, version, plan.params, inputsOf(plan, m.input)));
    const steps = await this.library.meshes.stepsOf(ids);
    const jobs = await this.library.jobs.ofBatches([id]);
    const bodies = await this.library.bodies.bodiesOf(plan.members.map((m) => m.bodyId));
    return {
      batch: await this.library.batches.view(id),
      operation: plan.operation,
      answers: plan.members.map(({ bodyId }, i) => {
        const job: JobRow | undefined = jobs.find((j) => j.bodyId === bodyId);
        const step = steps.get(ids[i]) ?? null;
        const body = bodies.get(bodyId);
        const ended = job && (job.state === 'failed' || job.state === 'cancelled') ? job.state : null;
        return {
          bodyId,
          name: body && !(body instanceof Error) ? (body.part?.tag ?? body.model.name) : '',
          state: step ? 'done' : (ended ?? 'waiting'),
          step,
          error: step ? null : ((job?.error ?? null) as BatchAnswers['answers'][number]['error']),
        };
      }),
    };
  }

  /** Ends what of a batch waits or runs; what is done stays. */
  async cancel(id: string): Promise<BatchView> {
    await this.library.batches.row(id);
    await this.queue.endJobsOf({ batchId: id });
    return this.library.batches.view(id);
  }

  /**
   * Takes a batch back on every piece that has not been changed since; tells the others.
   *
   * @param lose though prints come to be of no use by it
   * @throws Refusal `busy`, `nothing-to-undo`, `prints-at-stake`
   */
  async undo(id: string, lose: boolean): Promise<{ batch: BatchView; undone: string[]; kept: string[] }> {
    const view = await this.library.batches.view(id);
    if (view.open > 0)
      throw new Refusal('state', 'busy', `"${view.title}" is still at work.`, 'Wait for it, or cancel it.');
    if (view.kind !== 'line' || view.undoneAt !== null || view.done === 0)
      throw new Refusal('state', 'nothing-to-undo', 'There is nothing to undo.', '');
    const jobs = (await this.library.jobs.ofBatches([id])).filter((j) => j.state === 'done' && j.bodyId !== null);
    // a piece may have been changed twice, as when its unit was set after it was read
    const members = new Map<string, number>();
    for (const j of jobs) members.set(j.bodyId!, codecs.result.read(j.result)!.seq!);
    const open = await this.library.jobs.open({ bodyIds: [...members.keys()] });
    const busy = new Set(open.filter((j) => j.kind === 'line').map((j) => j.bodyId));
    const still = await this.lyingStill([...members.keys()]);
    const free = [...members]
      .filter(([bodyId]) => !busy.has(bodyId) && !still.has(bodyId))
      .map(([bodyId, seq]) => ({ bodyId, seq }));
    const undone = await this.library.bodies.undoAll(free, [this.library.batches.undone(id)], async (body, before) => {
      if (!lose) refuseLoss(await this.library.stakes.ofMove(body, before));
    });
    for (const bodyId of undone) this.queue.tell({ type: 'body', bodyId, projectId: view.projectId });
    this.queue.tell({ type: 'project', projectId: view.projectId });
    return {
      batch: await this.library.batches.view(id),
      undone,
      kept: [...members.keys()].filter((bodyId) => !undone.includes(bodyId)),
    };
  }

  /** Parts that may not be laid otherwise now, because a print of them stands or stopped on the bed. */
  private async lyingStill(ids: readonly string[]): Promise<Set<string>> {
    const bodies = [...(await this.library.bodies.bodiesOf(ids)).values()];
    const parts = bodies.filter((b): b is Body => !(b instanceof Error) && b.kind === 'part');
    const now = await partsNow(this.library.views, parts);
    return new Set([...now.values()].filter(lieRefusal).map((p) => p.id));
  }

  /** When the last file of a kit is read, pieces whose unit was guessed get the one that all of them together speak for. */
  private async settle(id: string): Promise<void> {
    const { kind, projectId } = await this.library.batches.row(id);
    if (kind === 'import') {
      const batch = await this.library.batches.view(id);
      if (batch.cancelled === 0) await this.readAlike(projectId, id);
    }
    this.queue.tell({ type: 'project', projectId });
  }

  /** Reads pieces whose unit was guessed in the kit's unit. Only those that nothing was done to. */
  async readAlike(projectId: string, batchId: string | null = null): Promise<BatchView | null> {
    const { unit, oddUnits, pieces } = await this.library.kits.kit(projectId);
    if (!unit || oddUnits.length === 0) return null;
    const id = batchId ?? randomUUID();
    const bodies = await this.library.bodies.bodiesOf(oddUnits);
    const views = await this.library.views.viewsOf(oddUnits);
    const jobs: NewJob[] = [];
    const refused: BatchView['refused'] = [];
    for (const body of bodies.values()) {
      if (body instanceof Error || (batchId !== null && body.line.length > 1)) continue;
      if (pieces.find((p) => p.id === body.id)?.busyJobId) continue;
      const view = views.get(body.id);
      const held = view && !(view instanceof Error) ? view.parts.filter(isHeld) : [];
      const ahead = await this.library.stakes.ahead(body);
      if (held.length + ahead.length > 0) {
        const message = `${printedCount(ahead.length > 0 ? ahead : held)} would be of no use. Size it at its own stop.`;
        refused.push({ file: body.model.name, message });
        continue;
      }
      const [first, ...later] = body.line.slice(0, body.cursor);
      const planned = [
        { operation: catalogue.import.name, params: { ...first.params, unit: unit.unit } },
        ...later.map((s) => ({ operation: s.operation, params: s.params })),
      ];
      jobs.push({
        kind: 'line',
        title: `Read ${body.model.name} in ${unit.unit}`,
        projectId,
        bodyId: body.id,
        batchId: id,
        payload: { bodyId: body.id, from: 0, planned, lose: false } satisfies LinePayload,
      });
    }
    if (jobs.length === 0 && refused.length === 0) return null;
    const title = `Read ${countOf(jobs.length, 'piece')} in ${unit.unit}`;
    const row = { id, projectId, kind: 'line' as const, title, refused, createdAt: now() };
    await this.queue.addAll(jobs, batchId === null ? [this.library.batches.statement(row)] : [], {
      projects: [projectId],
    });
    return this.library.batches.view(id);
  }

  /**
   * Puts a new file in the place of a piece's own; its line replays on it.
   *
   * @param lose though prints come to be of no use by it
   * @throws Refusal `cannot`, `prints-at-stake`
   */
  async version(body: Body, sourceHash: string, fileName: string, lose: boolean) {
    if (body.kind !== 'model')
      throw new Refusal('request', 'cannot', 'A part has no file of its own.', 'Give the whole piece its new file.');
    const [first] = body.line;
    if (first.operation !== catalogue.import.name)
      throw new Refusal('request', 'cannot', 'A test piece was cut from a model; it has no file.', '');
    const planned = body.line.slice(0, body.cursor).map((s) => ({ operation: s.operation, params: s.params }));
    // parts of another file are other parts
    if (!lose) refuseLoss(await this.library.stakes.ofChange(body, []));
    const source = { hash: sourceHash, name: fileName };
    const payload: LinePayload = { bodyId: body.id, from: 0, planned, source, lose };
    const title = `New file for ${pieceName(fileName)}`;
    return this.queue.add(
      { kind: 'line', title, projectId: body.projectId, bodyId: body.id, payload },
      { sources: [sourceHash] },
    );
  }
}
