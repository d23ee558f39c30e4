import type { PrintsAtStake } from '@jasmorphe/contracts/views';
import { isStepOf, lastStepOf, makesOf, type StepOf, type StepView } from '@jasmorphe/contracts/steps';
import { laysOf } from '@jasmorphe/contracts/reading/poses';
import { catalogue, descriptionOf } from '@jasmorphe/core/operations/catalogue';
import type { Body } from '../../store/Bodies.ts';
import type { Statement } from '../../store/database.ts';
import { Refusal } from '../../store/Refusal.ts';
import { mayLie } from '../../store/lieStill.ts';
import { inputsOf, type LinePayload } from '../../store/payloads.ts';
import { sourceOf } from '../../store/sourceOf.ts';
import { refuseLoss } from '../../store/Stakes.ts';
import type { Relied } from '../../store/Writer.ts';
import { jobKind, share, type JobContext } from '../JobKind.ts';

/** The file that a model's line begins with: that of its first step, which undo brings back too. */
const fileOf = ({ model, line }: Body): { hash: string; name: string } => ({
  hash: sourceOf(line[0]?.inputs[0] ?? '') ?? model.sourceHash,
  name: model.sourceName,
});

/** Steps of a line from some place on, worked out one after another. */
async function replay(
  { library, steps, job, progress }: JobContext,
  { bodyId, from, planned, source: given }: LinePayload,
) {
  const body = await library.bodies.body(bodyId);
  const source = given ?? fileOf(body);
  const stepIds = body.stepIds.slice(0, from);
  const statements: Statement[] = [];
  const outputs: string[] = [];
  let input = from > 0 || body.kind === 'part' ? library.bodies.meshAfter(body, from) : '';
  let divided: Omit<StepOf<'divide'>, 'createdAt'> | null = null;
  for (const [i, next] of planned.entries()) {
    const ofFile = descriptionOf(next.operation).takes === 'file';
    // the first step of a test piece is cut from the model that it was made of
    if (body.kind === 'model' && from === 0 && i === 0 && !ofFile) input = body.line[0].inputs[0];
    const { step, outputs: made } = await steps.run(
      job,
      next,
      ofFile ? [`source:${source.hash}`] : inputsOf(next, input),
      ofFile ? source : undefined,
      share(progress, i / planned.length, (i + 1) / planned.length),
    );
    statements.push(...library.meshes.stepStatements(step, made));
    outputs.push(...step.outputs);
    stepIds.push(step.id);
    if (isStepOf(step as StepView, catalogue.divide)) divided = step as StepOf<'divide'>;
    if (makesOf(next) !== 'parts') input = step.outputs[0] ?? input;
  }
  const relied: Relied = { bodies: [body.id], meshes: outputs, sources: given ? [given.hash] : [] };
  const parts = divided?.outputs ?? (lastStepOf(body.line, from, catalogue.divide) ? null : []);
  const atStake = (): Promise<PrintsAtStake> => library.stakes.ofChange(body, parts);
  return { body, stepIds, statements, divided, relied, atStake, last: stepIds.at(-1)! };
}

/** Changes a line: new steps from some place on. */
export const line = jobKind({
  kind: 'line',
  async run(context, payload) {
    const { library } = context;
    const { body, stepIds, statements, divided, relied, atStake, last } = await replay(context, payload);
    const { id, model, projectId } = body;
    relied.holds = async () => {
      if ((await library.bodies.body(id)).seq !== body.seq)
        throw new Refusal('state', 'busy', 'The line was changed meanwhile.', 'Look again, and repeat it.');
      // a print of the part may have been started in the meantime
      if (body.kind === 'part' && payload.planned.some(laysOf)) await mayLie(library.views, body);
      if (!payload.lose) refuseLoss(await atStake());
    };
    return {
      statements: [
        ...statements,
        ...(divided ? await library.parts.partStatements(model.id, divided) : []),
        ...library.bodies.lineStatements(body, stepIds, stepIds.length),
        ...(payload.source ? [library.bodies.sourceStatement(id, payload.source)] : []),
        library.projects.touch(projectId),
      ],
      relied,
      result: { bodyId: id, stepId: last, seq: body.seq + 1 },
      events: [...new Set([id, model.id])].map((bodyId) => ({ type: 'body', bodyId, projectId })),
    };
  },
});

/** Works out what a change of a line would give, and what it would do to printed parts, and leaves the line as it is. */
export const dryLine = jobKind({
  kind: 'replay',
  async run(context, payload) {
    const { body, statements, relied, atStake, last } = await replay(context, payload);
    return { statements, relied, result: { bodyId: body.id, stepId: last, atStake: await atStake() }, events: [] };
  },
});
