import { extractLevel, type Field } from '../../field/extractLevel.ts';
import { SignedDistance } from '../../field/SignedDistance.ts';
import { sliceContext, type RunContext } from '../../mesh/context.ts';
import { buildEdges, twinsOf } from '../../mesh/edges.ts';
import { makeSimpler } from '../../field/makeSimpler.ts';
import { boundsOf, sizeOf, type TriMesh } from '../../mesh/TriMesh.ts';

/**
 * A new skin at a chosen detail around whatever the mesh has for an inside by its winding number, so that holes
 * larger than the detail close too. Where two skins lie nearer than twice the detail they may fuse.
 *
 * @param detailMm edge of a grid cube
 * @param growMm how far outside the old skin the new one lies, mm; closes gaps up to twice as wide
 */
export async function wrapMesh(mesh: TriMesh, detailMm: number, growMm: number, context: RunContext): Promise<TriMesh> {
  const distance = new SignedDistance(mesh);
  const field: Field = {
    distance: (x, y, z, limit) => distance.distance(x, y, z, limit),
    inside: (x, y, z) => distance.inside(x, y, z),
    depth: -growMm,
    closed: twinsOf(mesh, buildEdges(mesh)).every((g) => g >= 0),
  };
  const box = boundsOf(mesh);
  const grown = {
    min: box.min.map((x) => x - growMm) as unknown as typeof box.min,
    max: box.max.map((x) => x + growMm) as unknown as typeof box.max,
  };
  const skin = extractLevel(field, grown, detailMm, sliceContext(context, 0, 0.85));
  return makeSimpler(skin, detailMm / 10, sliceContext(context, 0.85, 1));
}

/** Detail that keeps the grid of a wrap near two million points: a two-hundredth of the diagonal. */
export const defaultDetail = (mesh: TriMesh): number => Math.hypot(...sizeOf(boundsOf(mesh))) / 200;
