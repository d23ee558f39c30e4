import { pairsText } from '../../mesh/crossingCount.ts';
import { whole } from '../../words/numbers.ts';
import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { sliceContext } from '../../run/context.ts';
import { deviationOf } from '../../mesh/deviation.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { MeshError } from '../../run/MeshError.ts';
import { triangleCount } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import { refineOnce } from './curved.ts';

const mostTriangles = 4_000_000;
const mostRounds = 6;

/** Turns a faceted sculpt into a smooth one: facets are divided towards a curved surface, creases and flats kept. */
export const refine = makeOperation(description, async ([input], params, context) => {
  const source = weldExact(input);
  let mesh = source;
  let before = 0;
  let after = 0;
  let rounds = 0;
  for (; rounds < mostRounds; rounds++) {
    context.checkCancelled();
    context.progress((0.7 * rounds) / mostRounds, `Dividing facets, round ${rounds + 1}`);
    const next = refineOnce(mesh, params.tolerance, params.crease);
    if (rounds === 0) before = next.worstMm;
    // where a crease runs out in a kink, dividing goes on for ever and gains nothing
    const stuck = rounds > 1 && next.worstMm >= after;
    after = next.worstMm;
    if (next.halved === 0 || stuck) break;
    if (triangleCount(next.mesh) > mostTriangles)
      throw new MeshError(
        'too-fine',
        `A tolerance of ${params.tolerance} mm needs more than ${whole(mostTriangles)} triangles.`,
        'Ask for a coarser tolerance, or refine after scaling down.',
        'tolerance',
      );
    mesh = next.mesh;
  }
  const left = after > 0 ? refineOnce(mesh, params.tolerance, params.crease) : null;
  after = left?.worstMm ?? 0;
  const check = inspectMesh(mesh, { brief: true }, sliceContext(context, 0.7, 0.9));
  return {
    outputs: [mesh],
    report: {
      trianglesBefore: triangleCount(source),
      trianglesAfter: triangleCount(mesh),
      chordErrorBeforeMm: before,
      chordErrorAfterMm: after,
      rounds,
      deviation: deviationOf(source, mesh, 20_000, sliceContext(context, 0.9, 1)),
      selfIntersectingPairs: check.selfIntersectingPairs ?? 0,
      note:
        mesh === source
          ? 'No facet stands off as far as that: nothing to refine.'
          : [
              left && left.halved > 0
                ? `At ${left.halved} edges the skin folds too sharply to be rounded within the tolerance; raise the crease angle or mend there.`
                : 'Every facet now lies within the tolerance of its curve.',
              (check.selfIntersectingPairs ?? 0) > 0
                ? `${pairsText(check.selfIntersectingPairs!)} pairs of triangles cross: mend before going on.`
                : '',
            ]
              .filter(Boolean)
              .join(' '),
    },
  };
});
