import type { models } from '../../store/schema.ts';
import type { Library } from '../../store/Library.ts';
import type { Outcome } from '../JobKind.ts';
import type { StepMade } from '../StepRunner.ts';

/** A model whose line begins with a step that was just made. */
export const newModel = (
  { meshes, bodies }: Library,
  { step, outputs }: StepMade,
  model: typeof models.$inferInsert,
  reliedBodies: string[] = [],
): Outcome => ({
  statements: [...meshes.stepStatements(step, outputs), ...bodies.modelStatements(model, [step.id])],
  relied: { projects: [model.projectId], bodies: reliedBodies, meshes: step.outputs, sources: [model.sourceHash] },
  result: { bodyId: model.id, stepId: step.id },
  events: [{ type: 'project', projectId: model.projectId }],
});
