import { randomUUID } from 'node:crypto';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { inputsOf, type Measured, type Scanned } from '../../store/payloads.ts';
import { jobKind, type JobContext } from '../JobKind.ts';

const ofMeasures = ({ steps, job, progress }: JobContext, made: Measured) =>
  steps.run(job, { operation: catalogue.reference.name, params: { ...made } }, [], undefined, progress);

const ofScan = ({ steps, job, progress }: JobContext, made: Scanned) =>
  steps.run(
    job,
    { operation: catalogue.import.name, params: { unit: made.unit } },
    [`source:${made.sourceHash}`],
    { hash: made.sourceHash, name: made.fileName },
    progress,
  );

/** Adds a body to size a model by. What is worn starts where it settles; a figure that stands beside starts in the middle. */
export const reference = jobKind({
  kind: 'reference',
  async run(context, { modelId, name, made }) {
    const { library, steps, job, progress } = context;
    const measured = 'kind' in made ? await ofMeasures(context, made) : null;
    const { step, outputs } = measured ?? (await ofScan(context, made as Scanned));
    const report = measured?.step.report ?? null;
    const body = await library.bodies.body(modelId);
    const hash = library.bodies.meshAfter(body, body.cursor);
    const { facts } = outputs[0];
    const { min, max } = (await library.meshes.mesh(hash)).facts;
    const middle = (k: 'x' | 'y' | 'z') => (min[k] + max[k]) / 2 - (facts.min[k] + facts.max[k]) / 2;
    let move: [number, number, number] = [middle('x'), middle('y'), middle('z')];
    if (!report || report.kind === 'head') {
      const params = report
        ? { kind: report.kind, measures: report.measures, seat: true }
        : { scan: step.outputs[0], seat: true };
      const planned = { operation: catalogue.clearance.name, params };
      try {
        const study = await steps.run(job, planned, inputsOf(planned, hash), undefined, progress);
        const found = study.step.report.move;
        move = [found.x, found.y, found.z];
      } catch (error) {
        // where it cannot settle it starts in the middle
        if (!isMeshError(error) || error.code !== 'cannot') throw error;
      }
    }
    const row = {
      id: randomUUID(),
      modelId,
      name,
      kind: report?.kind ?? ('scan' as const),
      measures: report?.measures ?? {},
      landmarks: report?.landmarks ?? {},
      meshHash: step.outputs[0],
      move,
      turn: [0, 0, 0] as [number, number, number],
      createdAt: new Date().toISOString(),
    };
    return {
      statements: [...library.meshes.stepStatements(step, outputs), library.references.statement(row)],
      relied: { bodies: [modelId], meshes: step.outputs, sources: 'sourceHash' in made ? [made.sourceHash] : [] },
      result: { bodyId: modelId, stepId: step.id },
      events: [{ type: 'body', bodyId: modelId, projectId: body.projectId }],
    };
  },
});
