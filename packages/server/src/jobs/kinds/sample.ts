import { randomUUID } from 'node:crypto';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { jobKind } from '../JobKind.ts';
import { newModel } from './newModel.ts';

/** A test piece is a model of its own, whose line begins where it was cut from. */
export const sample = jobKind({
  kind: 'sample',
  async run({ library, steps, job, row, progress }, { bodyId, input, params }) {
    const made = await steps.run(job, { operation: catalogue.sample.name, params }, [input], undefined, progress);
    const { model, projectId } = await library.bodies.body(bodyId);
    const { sourceName, sourceHash, licence } = model;
    const name = `${made.step.report.kind === 'small' ? 'Small test' : 'Test region'} of ${model.name}`.slice(0, 120);
    return newModel(
      library,
      made,
      { id: randomUUID(), projectId, name, sourceName, sourceHash, licence, createdAt: row.createdAt },
      [bodyId],
    );
  },
});
