import { dualContour } from '../../field/dualContour.ts';
import { extractLevel } from '../../field/extractLevel.ts';
import type { Field } from '../../field/FieldBlock.ts';
import { makeSimpler } from '../../repair/makeSimpler.ts';
import { gridPoints, mostGridPoints, scanConvert, type ScannedBody } from '../../field/scanConvert.ts';
import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { MeshError } from '../../run/MeshError.ts';
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
  const points = gridPoints(mesh, detailMm, growMm + gapsMm / 2);
  if (points > mostGridPoints)
    throw new MeshError(
      'too-fine',
      `A detail of ${Number(detailMm.toPrecision(3))} mm on a model ${diagonalOf(mesh).toFixed(0)} mm across needs more memory than there is.`,
      `Try ${(detailMm * Math.cbrt(points / mostGridPoints) * 1.05).toPrecision(2)} mm or more.`,
      'detail',
    );
  if (growMm === 0 && gapsMm === 0) {
    const body = scanConvert(mesh, detailMm, sliceContext(context, 0, 0.3));
    if (!body.inside.includes(1)) return { positions: new Float32Array(0), triangles: new Uint32Array(0) };
    const skin = dualContour(body, mesh, mergeShare, sliceContext(context, 0.3, 0.6));
    const simpler = await makeSimpler(skin, simplifyShare * detailMm, sliceContext(context, 0.6, 0.95));
    // what came back changed has been tested already
    if (simpler !== skin) return simpler;
    const check = inspectMesh(simpler, { brief: true }, sliceContext(context, 0.95, 1));
    if (check.watertight && check.selfIntersectingPairs === 0 && check.nonManifoldVertices === 0) return simpler;
    // relief finer than the grid made the quick skin cross itself: this one cannot
    const safe = level(mesh, body, 0, sliceContext(context, 0.6, 0.9));
    return makeSimpler(safe, simplifyShare * detailMm, sliceContext(context, 0.9, 1));
  }
  const moved = (m: TriMesh, depth: number, from: number, to: number): TriMesh => {
    const body = scanConvert(m, detailMm, sliceContext(context, from, from + 0.1));
    return level(m, body, depth, sliceContext(context, from + 0.1, to));
  };
  const grown = moved(mesh, -(growMm + gapsMm / 2), 0, gapsMm > 0 ? 0.4 : 0.8);
  const shrunk = gapsMm > 0 && grown.triangles.length > 0 ? moved(grown, gapsMm / 2, 0.4, 0.8) : grown;
  return makeSimpler(shrunk, simplifyShare * detailMm, sliceContext(context, 0.8, 1));
}

/**
 * The skin at a depth under the surface (negative: outside it), by the grid that cannot make crossings.
 *
 * @param body the mesh on the same grid, which tells inside from outside
 */
function level(mesh: TriMesh, body: ScannedBody, depth: number, context: RunContext): TriMesh {
  const tree = treeOf(mesh);
  const hit = newHit();
  const { counts, origin, cell, inside } = body;
  const field: Field = {
    distance: (x, y, z, limit) => Math.min(limit, tree.nearest(x, y, z, limit, hit, hit.triangle).distance),
    inside: (x, y, z) => {
      const i = Math.round((x - origin[0]) / cell);
      const j = Math.round((y - origin[1]) / cell);
      const k = Math.round((z - origin[2]) / cell);
      return (
        i >= 0 &&
        j >= 0 &&
        k >= 0 &&
        i < counts[0] &&
        j < counts[1] &&
        k < counts[2] &&
        inside[i + counts[0] * (j + counts[1] * k)] === 1
      );
    },
    depth,
    closed: false,
  };
  const out = Math.max(0, -depth);
  const box = boundsOf(mesh);
  const wider: Box3 = {
    min: [box.min[0] - out, box.min[1] - out, box.min[2] - out],
    max: [box.max[0] + out, box.max[1] + out, box.max[2] + out],
  };
  return extractLevel(field, wider, cell, context, origin);
}

/**
 * Detail that keeps a wrap within seconds: a three-hundredth of the diagonal. A skin that is moved is rounded by the way it
 * goes, so where that is large beside the model a twenty-fourth of the way shows all there is.
 */
export const defaultDetail = (mesh: TriMesh, growMm = 0, gapsMm = 0): number =>
  Math.max(diagonalOf(mesh) / 300, (growMm + gapsMm / 2) / 24);
