import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import type { ClearanceParams } from '@jasmorphe/core/operations/clearance/describe';
import type { ReferenceView } from '@jasmorphe/contracts/views';

/**
 * What the clearance study is asked about a reference that stands so in the model, perhaps with the model scaled about
 * its own origin, while the body keeps its place at `about`.
 */
export const clearanceParams = (
  r: ReferenceView,
  placed: { move: Triple; turn: Triple },
  factor = 1,
  about: Triple = [0, 0, 0],
): Partial<ClearanceParams> => ({
  ...(r.kind === 'scan' ? { scan: r.meshHash } : { kind: r.kind, measures: r.measures }),
  move: placed.move.map((m, k) => m + (factor - 1) * about[k]) as Triple,
  turn: placed.turn,
  lining: r.liningMm,
  want: r.wantMm,
  ...(factor === 1 ? {} : { factor }),
});
