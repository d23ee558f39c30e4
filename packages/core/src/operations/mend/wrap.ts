import { dualContour } from '../../field/dualContour.ts';
import { extractLevel, type Field } from '../../field/extractLevel.ts';
import { makeSimpler } from '../../field/makeSimpler.ts';
import { gridPoints, mostGridPoints, scanConvert } from '../../field/scanConvert.ts';
import { SignedDistance } from '../../field/SignedDistance.ts';
import { sliceContext, type RunContext } from '../../mesh/context.ts';
import { twinsOf } from '../../mesh/edges.ts';
import { inspectMesh } from '../../mesh/inspect.ts';
import { MeshError } from '../../mesh/MeshError.ts';
import { boundsOf, diagonalOf, type Box3, type TriMesh } from '../../mesh/TriMesh.ts';

export interface WrapOptions {
  /** edge of a grid cube, mm: finer relief is lost */
  detailMm: number;
  /** how far outside the old skin the new one lies, mm */
  growMm: number;
  /** gaps and slots up to this width are closed, mm */
  gapsMm: number;
}

/** A new skin may leave the old one by this share of the detail where that saves triangles. */
const simplifyShare = 0.1;
/** Where one vertex may stand for several cells, its planes lie within this share of the detail. */
const mergeShare = 0.08;

/**
 * A new skin at a chosen detail around whatever the mesh has for an inside by its winding number, so that holes larger
 * than the detail close too. Flats, creases and corners come out where they were, as the skin's vertices are set on the
 * planes of the old triangles. To grow, or to close gaps (grow by half the gap and shrink again), the level of a
 * distance field is taken instead, which rounds creases by the distance. Where two skins lie nearer than twice the
 * detail they may fuse.
 *
 * @throws MeshError `too-fine` when the grid does not fit in memory
 */
export async function wrapMesh(mesh: TriMesh, options: WrapOptions, context: RunContext): Promise<TriMesh> {
  const { detailMm, growMm, gapsMm } = options;
  if (gridPoints(mesh, detailMm) > mostGridPoints)
    throw new MeshError(
      'too-fine',
      `A detail of ${Number(detailMm.toPrecision(3))} mm on a model ${diagonalOf(mesh).toFixed(0)} mm across needs more memory than there is.`,
      `Try ${(detailMm * Math.cbrt(gridPoints(mesh, detailMm) / mostGridPoints) * 1.05).toPrecision(2)} mm or more.`,
      'detail',
    );
  if (growMm === 0 && gapsMm === 0) {
    const body = scanConvert(mesh, detailMm, sliceContext(context, 0, 0.3));
    const skin = dualContour(body, mesh, mergeShare, sliceContext(context, 0.3, 0.6));
    const simpler = await makeSimpler(skin, simplifyShare * detailMm, sliceContext(context, 0.6, 0.95));
    // what came back changed has been tested already
    if (simpler !== skin) return simpler;
    const check = inspectMesh(simpler, { brief: true }, sliceContext(context, 0.95, 1));
    if (check.watertight && check.selfIntersectingPairs === 0 && check.nonManifoldVertices === 0) return simpler;
    // relief finer than the grid made the quick skin cross itself: this one cannot
    const safe = level(mesh, detailMm, 0, sliceContext(context, 0.6, 0.9));
    return makeSimpler(safe, simplifyShare * detailMm, sliceContext(context, 0.9, 1));
  }
  const grown = level(mesh, detailMm, -(growMm + gapsMm / 2), sliceContext(context, 0, gapsMm > 0 ? 0.4 : 0.8));
  const shrunk =
    gapsMm > 0 && grown.triangles.length > 0
      ? level(grown, detailMm, gapsMm / 2, sliceContext(context, 0.4, 0.8))
      : grown;
  return makeSimpler(shrunk, simplifyShare * detailMm, sliceContext(context, 0.8, 1));
}

/** The skin at a depth under the surface (negative: outside it), by the grid that cannot make crossings. */
function level(mesh: TriMesh, detailMm: number, depth: number, context: RunContext): TriMesh {
  const distance = new SignedDistance(mesh);
  const closed = twinsOf(mesh).every((g) => g >= 0);
  const field: Field = {
    distance: (x, y, z, limit) => distance.distance(x, y, z, limit),
    inside: (x, y, z) => distance.inside(x, y, z),
    depth,
    closed,
  };
  const out = Math.max(0, -depth);
  const box = boundsOf(mesh);
  const wider: Box3 = {
    min: [box.min[0] - out, box.min[1] - out, box.min[2] - out],
    max: [box.max[0] + out, box.max[1] + out, box.max[2] + out],
  };
  return extractLevel(field, wider, detailMm, context);
}

/** Detail that keeps a wrap within seconds: a three-hundredth of the diagonal. */
export const defaultDetail = (mesh: TriMesh): number => diagonalOf(mesh) / 300;
