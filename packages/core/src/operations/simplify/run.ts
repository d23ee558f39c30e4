import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { makeSimpler, simplifyTo } from '../../repair/makeSimpler.ts';
import { sliceContext } from '../../run/context.ts';
import { deviationOf } from '../../mesh/deviation.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { isSound } from '../../inspect/Inspection.ts';
import { MeshError } from '../../run/MeshError.ts';
import { diagonalOf, triangleCount } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';

/** Takes triangles out of a heavy scan where they tell nothing. A sound solid stays one. */
export const simplify = makeOperation(description, async ([input], params, context) => {
  if (params.tolerance !== undefined && params.triangles !== undefined)
    throw new MeshError('bad-params', 'Give a tolerance or a number of triangles, not both.', '', 'triangles');
  const source = weldExact(input);
  if (params.triangles !== undefined && params.triangles >= triangleCount(source))
    throw new MeshError(
      'bad-params',
      `The mesh has ${triangleCount(source)} triangles, no more than are asked for.`,
      'Ask for fewer, or divide flats with Refine.',
      'triangles',
    );
  const before = inspectMesh(source, { brief: true }, sliceContext(context, 0, 0.25));
  let tolerance = params.tolerance ?? diagonalOf(source) / 5000;
  if (params.triangles !== undefined) {
    context.progress(0.3, 'Looking for the tolerance');
    const rough = await simplifyTo(source, params.triangles, Infinity);
    tolerance = deviationOf(rough, source, 10_000, sliceContext(context, 0.3, 0.4)).maxMm;
  }
  context.checkCancelled();
  const solid = isSound(before);
  const mesh = solid
    ? await makeSimpler(source, tolerance, sliceContext(context, 0.4, 0.8), true)
    : await simplifyTo(source, params.triangles ?? 0, tolerance);
  const after = inspectMesh(mesh, { brief: true }, sliceContext(context, 0.8, 0.9));
  return {
    outputs: [mesh],
    report: {
      trianglesBefore: triangleCount(source),
      trianglesAfter: triangleCount(mesh),
      deviation: deviationOf(source, mesh, 40_000, sliceContext(context, 0.9, 1)),
      sound: isSound(after),
      note: solid
        ? triangleCount(mesh) === triangleCount(source)
          ? 'No triangle could be spared within the tolerance.'
          : 'A sound solid before and after.'
        : 'Not a sound solid before: mend it, then check again.',
    },
  };
});
