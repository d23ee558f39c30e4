import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { boundsOf, sizeOf, xyz } from '../../mesh/TriMesh.ts';
import { makeReference, publishedMeasures } from '../../reference/makeReference.ts';
import { anthropometrySource } from '../../trade/anthropometry.ts';

/** Makes a body to size things by. */
export const reference = makeOperation(description, async (_, { kind, measures }) => {
  const body = makeReference(kind, measures);
  return {
    outputs: [body.mesh],
    report: {
      kind,
      measures: { ...publishedMeasures(kind), ...measures },
      landmarks: body.landmarks,
      size: xyz(sizeOf(boundsOf(body.mesh))),
      source: anthropometrySource,
    },
  };
});
