import { laysOf } from '@jasmorphe/contracts/reading/poses';
import type { StepView } from '@jasmorphe/contracts/steps';
import type { JobView } from '@jasmorphe/contracts/views';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { catalogue, descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { Refusal } from '../store/Refusal.ts';
import type { Body } from '../store/Bodies.ts';
import { jobView } from '../store/JobRows.ts';
import { mayLie } from '../store/lieStill.ts';
import { refuseFinal } from '../store/Stakes.ts';
import type { Library } from '../store/Library.ts';
import { canonicalJson, stepId } from '../store/stepId.ts';
import type { JobQueue } from './JobQueue.ts';
import { inputsOf, type ImportPayload, type LinePayload, type MadeOf } from '../store/payloads.ts';
import type { PlannedStep } from '../store/payloadChecks.ts';

/** What a job is called while it runs. */
/** What a body is called where others stand beside it. */
export const calledOf = ({ model, part }: Pick<Body, 'model' | 'part'>): string =>
  part ? `${model.name} ${part.tag}` : model.name;

const titleOf = (name: OperationName): string => descriptionOf(name).words.title;

/** Where a step goes in a line: at its cursor. One pose gives way to the next. */
export const fromOf = (body: Pick<Body, 'line' | 'cursor'>, planned: { operation: OperationName }): number =>
  body.cursor > 0 && laysOf(planned) && laysOf(body.line[body.cursor - 1]) ? body.cursor - 1 : body.cursor;

/** What a maker asks for, turned into jobs: refused at once where it cannot be, and answered at once where it is known. */
export class JobRequests {
  constructor(
    private readonly library: Library,
    private readonly queue: JobQueue,
  ) {}

  /** A new import. Two imports of the same file are two models over one mesh. */
  import(payload: Omit<ImportPayload, 'path' | 'copies'> & { path?: string }): Promise<JobView> {
    const { projectId, fileName, sourceHash } = payload;
    const job = { kind: 'import' as const, title: `Import ${fileName}`, projectId, bodyId: null, payload };
    return this.queue.add(job, { sources: [sourceHash] });
  }

  /** Adds an operation to a line, in place of steps beyond the cursor; `dry` only works it out. */
  async step(body: Body, planned: PlannedStep, { dry = false, lose = false } = {}): Promise<JobView> {
    if (body.kind === 'part' && descriptionOf(planned.operation).makes === 'parts')
      throw new Refusal(
        'request',
        'cannot',
        'A part is not divided again on its own line.',
        'Change the cuts of the divide step instead.',
      );
    const { lays, stays } = descriptionOf(planned.operation);
    if (lays || stays) {
      if (body.kind === 'model')
        throw new Refusal(
          'request',
          'cannot',
          'A model is laid on the bed by its parts.',
          'Divide it first: what fits whole becomes one part.',
        );
      if (lays && !dry) await mayLie(this.library.views, body);
    }
    const payload = { bodyId: body.id, from: fromOf(body, planned), planned: [planned], lose };
    return this.line(body, payload, titleOf(planned.operation), dry);
  }

  /** Changes a step's params and replays what follows it, up to the cursor; `dry` only works it out. */
  async edit(
    body: Body,
    index: number,
    params: Record<string, unknown>,
    { dry = false, lose = false } = {},
  ): Promise<JobView> {
    const step = body.line[index];
    if (!step)
      throw new Refusal(
        'unknown',
        'not-found',
        `There is no such step: the line has ${body.line.length}, counted from 0.`,
        'Reload the page.',
      );
    const later = body.line.slice(index + 1, Math.max(body.cursor, index + 1));
    if (laysOf(step) && later.length > 0)
      throw new Refusal(
        'state',
        'cannot',
        'What was done to the part since was done as it lay.',
        'Take that back first, or lay what is left anew.',
      );
    const planned = [
      { operation: step.operation, params },
      ...later.map((s) => ({ operation: s.operation, params: s.params })),
    ];
    const title = `${titleOf(step.operation)}, and replay ${later.length}`;
    return this.line(body, { bodyId: body.id, from: index, planned, lose }, title, dry);
  }

  private async line(body: Body, payload: LinePayload, title: string, dry: boolean): Promise<JobView> {
    for (const p of payload.planned) parseParams(descriptionOf(p.operation).params, p.params);
    const { id: bodyId, projectId } = body;
    const job = { projectId, bodyId, payload };
    if (dry)
      return this.queue.add({ kind: 'replay', title: `Work out ${title.toLowerCase()}: ${calledOf(body)}`, ...job });
    // what only Redo brings back is known before anything is worked out
    if (!payload.lose) refuseFinal(await this.library.stakes.ahead(body));
    const [waiting] = await this.library.jobs.open({ bodyId, kind: 'line' });
    if (!waiting) return this.queue.add({ kind: 'line', title: `${title}: ${calledOf(body)}`, ...job });
    // a second click on the same button is the same wish
    if (canonicalJson(waiting.payload) === canonicalJson(payload)) return jobView(waiting);
    throw new Refusal(
      'state',
      'busy',
      `"${waiting.title}" is still at work on this line.`,
      'Wait for it, or cancel it.',
    );
  }

  /**
   * Works an operation out without adding it. A step that is known answers at once.
   *
   * @param after on the mesh after so many steps of the line
   * @param ifKnown asks for no work: null where it was never worked out
   */
  async preview(body: Body, planned: PlannedStep, after: number, ifKnown: boolean): Promise<JobView | StepView | null> {
    const operation = descriptionOf(planned.operation);
    const params = parseParams(operation.params, planned.params);
    if (after > body.line.length || (body.kind === 'model' && after < 1))
      throw new Refusal('request', 'bad-params', `The line has ${body.line.length} steps, not ${after}.`, '', 'after');
    const inputs = inputsOf({ operation: planned.operation, params }, this.library.bodies.meshAfter(body, after));
    for (const hash of inputs) await this.library.meshes.mesh(hash);
    const known = await this.library.meshes.knownStep(stepId(operation.name, operation.version, params, inputs));
    if (known) return known.step;
    if (ifKnown) return null;
    const payload = { bodyId: body.id, inputs, ...planned };
    const waiting = await this.library.jobs.open({ bodyId: body.id, kind: 'preview' });
    const same = waiting.find((job) => canonicalJson(job.payload) === canonicalJson(payload));
    if (same) return jobView(same);
    const title = `Work out ${titleOf(planned.operation).toLowerCase()}: ${calledOf(body)}`;
    return this.queue.add({ kind: 'preview', title, projectId: body.projectId, bodyId: body.id, payload });
  }

  /** Makes a test piece of a body as it stands, as a model of its own. */
  async sample(body: Body, params: Record<string, unknown>): Promise<JobView> {
    parseParams(catalogue.sample.params, params);
    const { id: bodyId, projectId } = body;
    const payload = { bodyId, input: this.library.bodies.meshAfter(body, body.cursor), params };
    return this.queue.add({ kind: 'sample', title: `Test piece of ${calledOf(body)}`, projectId, bodyId, payload });
  }

  /** Adds a body to size a model by. */
  async reference({ id, kind, projectId, model }: Body, name: string, made: MadeOf): Promise<JobView> {
    if (kind !== 'model')
      throw new Refusal('request', 'cannot', 'A part is not sized by a body.', 'Add the body to the whole model.');
    if ('kind' in made) parseParams(catalogue.reference.params, made);
    const payload = { modelId: id, name, made };
    const relied = 'sourceHash' in made ? { sources: [made.sourceHash] } : {};
    const job = {
      kind: 'reference' as const,
      title: `Reference body for ${model.name}: ${name}`,
      projectId,
      bodyId: id,
      payload,
    };
    return this.queue.add(job, relied);
  }
}
