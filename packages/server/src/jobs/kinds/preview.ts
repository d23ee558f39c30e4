import { jobKind } from '../JobKind.ts';

/** Works a step out without adding it to a line. */
export const preview = jobKind({
  kind: 'preview',
  waits: true,
  async run({ library, steps, job, progress }, { bodyId, inputs, operation, params }) {
    const { step, outputs } = await steps.run(job, { operation, params }, inputs, undefined, progress);
    return {
      statements: library.meshes.stepStatements(step, outputs),
      relied: { bodies: [bodyId], meshes: step.outputs },
      result: { bodyId, stepId: step.id },
      events: [],
    };
  },
});
