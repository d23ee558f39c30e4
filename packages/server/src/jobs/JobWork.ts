import { randomUUID } from 'node:crypto';
import type { JobView, PrintsAtStake, ServerEvent } from '@jasmorphe/contracts/views';
import { makesOf } from '@jasmorphe/contracts/steps';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { catalogue, descriptionOf } from '@jasmorphe/core/operations/catalogue';
import type { Body, Library, Relied, Statement } from '../store/Library.ts';
import { references } from '../store/schema.ts';
import type { ImportPayload, LinePayload, PreviewPayload, ReferencePayload, SamplePayload } from './jobPayloads.ts';
import type { ActiveJob, StepMade, StepRunner } from './StepRunner.ts';

/** What a job has made: written in one batch together with the word that it is done. */
export interface Outcome {
  statements: Statement[];
  relied: Relied;
  result: NonNullable<JobView['result']>;
  events: ServerEvent[];
}

type Progress = (fraction: number, phase: string) => void;

/** The operation that makes a mesh of a file. */
const reading = catalogue.import.name;

/** A file of more objects than this is one model. */
const mostObjects = 200;

const now = (): string => new Date().toISOString();

const part =
  (progress: Progress, from: number, to: number): Progress =>
  (fraction, phase) =>
    progress(from + (to - from) * fraction, phase);

/** What each kind of job does. Nothing is written here: what is to be written is handed back. */
export class JobWork {
  constructor(
    private readonly library: Library,
    private readonly steps: StepRunner,
  ) {}

  /** @param createdAt when it was asked for: models stand in the order of the drop, not in that in which they were read */
  async import(job: ActiveJob, payload: ImportPayload, createdAt: string, progress: Progress): Promise<Outcome> {
    await this.library.projectRow(payload.projectId);
    const read = (params: Record<string, unknown>, share: Progress) =>
      this.steps.run(
        job,
        { operation: reading, params },
        [`source:${payload.sourceHash}`],
        { hash: payload.sourceHash, name: payload.fileName },
        share,
      );
    const whole = await read(payload.params, progress);
    const { objects, words } = whole.step.report;
    const stem = payload.fileName.replace(/\.[^.]+$/, '') || payload.fileName;
    const model = (name: string, second: number) => ({
      id: randomUUID(),
      projectId: payload.projectId,
      name: name.slice(0, 120),
      sourceName: payload.fileName,
      sourceHash: payload.sourceHash,
      licence:
        payload.licence || [words?.licence, words?.designer && `by ${words.designer}`].filter(Boolean).join(', '),
      // models of one file stand in its order
      createdAt: new Date(Date.parse(createdAt) + second).toISOString(),
    });
    if (payload.objects !== 'apart' || objects.length < 2 || objects.length > mostObjects)
      return this.newModel(whole, model(stem, 0), []);
    const outcomes: Outcome[] = [];
    for (let i = 0; i < objects.length; i++) {
      const made = await read(
        { ...payload.params, object: i },
        part(progress, i / objects.length, (i + 1) / objects.length),
      );
      outcomes.push(this.newModel(made, model(`${stem} ${objects[i].name}`, i), []));
    }
    return {
      statements: outcomes.flatMap((o) => o.statements),
      relied: { ...outcomes[0].relied, meshes: outcomes.flatMap((o) => o.relied.meshes ?? []) },
      result: outcomes[0].result,
      events: outcomes[0].events,
    };
  }

  /** A test piece is a model of its own, whose line begins where it was cut from. */
  async sample(job: ActiveJob, payload: SamplePayload, progress: Progress): Promise<Outcome> {
    const planned = { operation: catalogue.sample.name, params: payload.params };
    const made = await this.steps.run(job, planned, [payload.input], undefined, progress);
    const { model, projectId } = await this.library.body(payload.bodyId);
    const { kind } = made.step.report;
    return this.newModel(
      made,
      {
        id: randomUUID(),
        projectId,
        name: `${kind === 'small' ? 'Small test' : 'Test region'} of ${model.name}`.slice(0, 120),
        sourceName: model.sourceName,
        sourceHash: model.sourceHash,
        licence: model.licence,
        createdAt: now(),
      },
      [payload.bodyId],
    );
  }

  private newModel(
    { step, outputs }: StepMade,
    model: Parameters<Library['modelStatements']>[0],
    bodies: string[],
  ): Outcome {
    return {
      statements: [...this.library.stepStatements(step, outputs), ...this.library.modelStatements(model, [step.id])],
      relied: { projects: [model.projectId], bodies, meshes: step.outputs, sources: [model.sourceHash] },
      result: { bodyId: model.id, stepId: step.id },
      events: [{ type: 'project', projectId: model.projectId }],
    };
  }

  async preview(job: ActiveJob, payload: PreviewPayload, progress: Progress): Promise<Outcome> {
    const { step, outputs } = await this.steps.run(job, payload, payload.inputs, undefined, progress);
    return {
      statements: this.library.stepStatements(step, outputs),
      relied: { bodies: [payload.bodyId], meshes: step.outputs },
      result: { bodyId: payload.bodyId, stepId: step.id },
      events: [],
    };
  }

  async reference(job: ActiveJob, payload: ReferencePayload, progress: Progress): Promise<Outcome> {
    const { modelId, name, made } = payload;
    const measured =
      'kind' in made
        ? await this.steps.run(
            job,
            { operation: catalogue.reference.name, params: { ...made } },
            [],
            undefined,
            progress,
          )
        : null;
    const scanned =
      'kind' in made
        ? null
        : await this.steps.run(
            job,
            { operation: reading, params: { unit: made.unit } },
            [`source:${made.sourceHash}`],
            { hash: made.sourceHash, name: made.fileName },
            progress,
          );
    const { step, outputs } = (measured ?? scanned)!;
    const body = await this.library.body(modelId);
    const report = measured?.step.report ?? null;
    const { facts } = outputs[0];
    const { min, max } = (await this.library.mesh(this.library.meshAfter(body, body.cursor))).facts;
    // its middle in the middle of the model, until it is placed
    const middle = (k: 'x' | 'y' | 'z') => (min[k] + max[k]) / 2 - (facts.min[k] + facts.max[k]) / 2;
    let move: [number, number, number] = [middle('x'), middle('y'), middle('z')];
    // what is worn starts where it settles; a figure that stands beside starts in the middle
    if (!report || report.kind === 'head') {
      const params = report
        ? { kind: report.kind, measures: report.measures, seat: true }
        : { scan: step.outputs[0], seat: true };
      const inputs = [this.library.meshAfter(body, body.cursor), ...(report ? [] : [step.outputs[0]])];
      try {
        const study = await this.steps.run(
          job,
          { operation: catalogue.clearance.name, params },
          inputs,
          undefined,
          progress,
        );
        const found = study.step.report.move;
        move = [found.x, found.y, found.z];
      } catch (error) {
        if (!isMeshError(error) || error.code !== 'cannot') throw error;
      }
    }
    return {
      statements: [
        ...this.library.stepStatements(step, outputs),
        this.library.db.insert(references).values({
          id: randomUUID(),
          modelId,
          name,
          kind: report?.kind ?? 'scan',
          measures: report?.measures ?? {},
          landmarks: (report?.landmarks ?? {}) as Record<string, [number, number, number]>,
          meshHash: step.outputs[0],
          move,
          turn: [0, 0, 0],
          createdAt: now(),
        }),
      ],
      relied: {
        bodies: [modelId],
        meshes: step.outputs,
        sources: 'sourceHash' in made ? [made.sourceHash] : [],
      },
      result: { bodyId: modelId, stepId: step.id },
      events: [{ type: 'body', bodyId: modelId, projectId: body.projectId }],
    };
  }

  /**
   * Steps of a line from some place on.
   *
   * @param dry works them out and says what it would do to printed parts, but leaves the line as it is
   */
  async line(job: ActiveJob, payload: LinePayload, progress: Progress, dry: boolean): Promise<Outcome> {
    const body = await this.library.body(payload.bodyId);
    const stepIds = body.stepIds.slice(0, payload.from);
    const statements: Statement[] = [];
    const outputs: string[] = [];
    let input = payload.from > 0 || body.kind === 'part' ? this.library.meshAfter(body, payload.from) : '';
    let last = '';
    let divided: StepMade['step'] | null = null;
    for (let i = 0; i < payload.planned.length; i++) {
      const planned = payload.planned[i];
      const ofFile = descriptionOf(planned.operation).takes === 'file';
      // the first step of a test piece is cut from the model that it was made of
      if (body.kind === 'model' && payload.from === 0 && i === 0 && !ofFile) input = body.line[0].inputs[0];
      const source = ofFile ? { hash: body.model.sourceHash, name: body.model.sourceName } : undefined;
      const made = await this.steps.run(
        job,
        planned,
        ofFile ? [`source:${body.model.sourceHash}`] : [input],
        source,
        part(progress, i / payload.planned.length, (i + 1) / payload.planned.length),
      );
      const { step } = made;
      statements.push(...this.library.stepStatements(step, made.outputs));
      outputs.push(...step.outputs);
      if (makesOf(planned) === 'parts') divided = step;
      else input = step.outputs[0] ?? input;
      stepIds.push(step.id);
      last = step.id;
    }
    const relied: Relied = { bodies: [body.id], meshes: outputs };
    if (dry)
      return {
        statements,
        relied,
        result: { bodyId: body.id, stepId: last, atStake: await this.atStake(body, divided?.outputs ?? []) },
        events: [],
      };
    if (divided) statements.push(...(await this.library.partStatements(body.model.id, divided)));
    const { projectId } = body;
    return {
      statements: [
        ...statements,
        ...this.library.lineStatements(body, stepIds, stepIds.length),
        this.library.touchStatement(projectId),
      ],
      relied,
      result: { bodyId: body.id, stepId: last },
      events: [body.id, ...(body.kind === 'part' ? [body.model.id] : [])].map((bodyId) => ({
        type: 'body',
        bodyId,
        projectId,
      })),
    };
  }

  /** What new parts would mean for those that are printed, on the bed, or stopped with something to save. */
  private async atStake(body: Body, newParts: string[]): Promise<PrintsAtStake> {
    if (body.kind === 'part') return { lost: [], kept: [] };
    const { parts } = await this.library.bodyView(body.id);
    const touched = parts.filter((p) => p.rests > 0 || !['planned', 'aside'].includes(p.state));
    const same = new Set(newParts);
    return {
      lost: touched.filter((p) => !same.has(p.meshHash)).map(({ tag, state }) => ({ tag, state })),
      kept: touched.filter((p) => same.has(p.meshHash)).map((p) => p.tag),
    };
  }
}
