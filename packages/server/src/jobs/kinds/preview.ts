import { IsIn, IsObject } from 'class-validator';
import { operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { jobKind } from '../JobKind.ts';
import { IsHashes, IsId } from '../payloadChecks.ts';

export class PreviewPayload {
  @IsId()
  bodyId: string;

  @IsHashes()
  inputs: string[] = [];

  @IsIn(operationNames)
  operation: OperationName;

  @IsObject()
  params: object = {};
}

/** Works a step out without adding it to a line. */
export const preview = jobKind({
  kind: 'preview',
  payload: PreviewPayload,
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
