import { edgesOf } from '../../mesh/edges.ts';
import { volumeOf } from '../../mesh/measures.ts';
import type { TriMesh } from '../../mesh/TriMesh.ts';
import { MeshError } from '../../run/MeshError.ts';
import { checkFacesOut } from '../cuts/checkCuts.ts';

/**
 * Refuses what has no inside: nothing of how it prints could be told.
 *
 * @throws MeshError `not-solid`
 */
export function checkSolid(mesh: TriMesh): void {
  const { start, count } = edgesOf(mesh);
  let open = 0;
  for (let e = 0; e < count; e++) if ((start[e + 1] - start[e]) % 2 === 1) open++;
  if (open > 0)
    throw new MeshError(
      'not-solid',
      `The skin is open along ${open} edges: there is no inside to lay layers in.`,
      'Mend it first.',
    );
  checkFacesOut(volumeOf(mesh));
}
