import { sliceContext, type RunContext } from '../run/context.ts';
import { edgesOf, shellsOf, splitVertices } from '../mesh/edges.ts';
import { noteUncrossed } from '../mesh/crossings.ts';
import { volumeOf } from '../mesh/measures.ts';
import { selfIntersections } from '../mesh/selfIntersections.ts';
import { sharedTriangles } from '../mesh/sharedTriangles.ts';
import { isFlatShell, shellMeasures } from '../mesh/shells.ts';
import { diagonalOf, subMesh, triangleCount, type TriMesh } from '../mesh/TriMesh.ts';
import { weldExact } from '../mesh/weld.ts';
import { resolveCrossings } from './resolveCrossings.ts';
import { healTears, settleCrossings, settleResolved } from './settleCrossings.ts';

/**
 * Settling takes crossing triangles out and closes what is left: right for slivers that rounding made, but on a coarse
 * mesh it can take much of the body with them. Where more of the volume changes than this share, the skin is cut along
 * the crossing curves and united instead.
 */
const settledShare = 1e-3;
/** What settling may change at most where uniting fails too; beyond that the crossings stay and are told. */
const mostOfVolume = 0.1;

/** What a test of new triangles found. */
export interface Proof {
  /** closed, and none of its new triangles crosses another */
  sound: boolean;
  /** pairs of crossing triangles of which one at least is new */
  crossingPairs: number;
  /** edges that have not exactly two sides, and points where sheets touch */
  tears: number;
  /** shells that enclosed nothing and were taken out */
  flatShells: number;
  /** something was found and mended */
  mended: boolean;
  /** share of the volume that mending crossings changed; below 0 where it lost. Where shells overlapped, what they shared counts once */
  volumeChange: number;
}

/** Without closed shells that enclose nothing: pairs of triangles back to back and the like. The last shell stays. */
export function dropFlatShells(mesh: TriMesh): { mesh: TriMesh; dropped: number } {
  const { label, count } = shellsOf(mesh);
  if (count < 2) return { mesh, dropped: 0 };
  const { volume, area } = shellMeasures(mesh);
  const flat = Array.from({ length: count }, (_, s) => isFlatShell(volume[s], area[s]));
  const dropped = flat.filter(Boolean).length;
  if (dropped === 0 || dropped === count) return { mesh, dropped: 0 };
  const keep: number[] = [];
  for (let t = 0; t < label.length; t++) if (!flat[label[t]]) keep.push(t);
  return { mesh: subMesh(mesh, keep), dropped };
}

function tearsOf(mesh: TriMesh): number {
  const { start, count } = edgesOf(mesh);
  let tears = splitVertices(mesh).length;
  for (let e = 0; e < count; e++) if (start[e + 1] - start[e] !== 2) tears++;
  return tears;
}

function shareChanged(before: TriMesh, after: TriMesh): number {
  const volume = volumeOf(before);
  return volume === 0 ? 0 : (volumeOf(after) - volume) / Math.abs(volume);
}

/** Shells smaller than this share of the whole that mending crossings left behind are splinters of rounding. */
const splinterShare = 1e-7;

/** Without closed shells that hold next to nothing of the whole. The largest stay. */
function dropSplinters(mesh: TriMesh): TriMesh {
  const { label, count } = shellsOf(mesh);
  if (count < 2) return mesh;
  const { volume } = shellMeasures(mesh);
  const least = splinterShare * Math.abs(volumeOf(mesh));
  const keep: number[] = [];
  for (let t = 0; t < label.length; t++) if (Math.abs(volume[label[t]]) >= least) keep.push(t);
  return keep.length === 0 || keep.length === label.length ? mesh : subMesh(mesh, keep);
}

/** A closed mesh without its crossings, by the way that changes least; null where none leaves a solid. */
function freeOfCrossings(mesh: TriMesh, fresh: Uint8Array, scale: number, context: RunContext): TriMesh | null {
  const settled = settleCrossings(mesh, scale, sliceContext(context, 0, 0.4), 5, fresh);
  const solid = settled && tearsOf(settled) === 0 ? dropSplinters(settled) : null;
  const change = solid ? Math.abs(shareChanged(mesh, solid)) : Infinity;
  // closing what was taken out may part a body at a thin place: no loose chip is passed off as sound
  const whole = solid !== null && shellsOf(solid).count <= shellsOf(mesh).count;
  if (whole && change <= settledShare) return solid;
  const resolved = resolveCrossings(mesh, sliceContext(context, 0.4, 0.8));
  const united = resolved && settleResolved(resolved, scale, sliceContext(context, 0.8, 1));
  if (united && united.triangles.length > 0 && tearsOf(united) === 0) return dropSplinters(united);
  return whole && change <= mostOfVolume ? solid : null;
}

/**
 * Tests a mesh that an operation made to be a solid, and mends what is wrong with it. Only triangles that none of the
 * meshes before it has are tested for crossings, so the cost goes with what changed.
 *
 * @param before meshes it was made of
 * @returns the mesh, the very same where nothing was found
 */
export function proveSolid(
  made: TriMesh,
  before: readonly TriMesh[],
  context: RunContext,
): { mesh: TriMesh; proof: Proof } {
  const welded = weldExact(made);
  const { mesh: full, dropped: flatShells } = dropFlatShells(welded);
  let mesh = full;
  const scale = diagonalOf(mesh);
  let mended = flatShells > 0;
  let tears = tearsOf(mesh);
  if (tears > 0) {
    const healed = healTears(mesh, scale, sliceContext(context, 0, 0.3));
    const left = tearsOf(healed);
    if (left === 0) {
      mesh = healed;
      mended = true;
      tears = 0;
    }
  }
  const fresh = new Uint8Array(triangleCount(mesh)).fill(1);
  for (const old of before) {
    const { b } = sharedTriangles(weldExact(old), mesh);
    for (let t = 0; t < fresh.length; t++) if (b[t]) fresh[t] = 0;
  }
  let crossingPairs = 0;
  let volumeChange = 0;
  if (fresh.includes(1)) {
    crossingPairs = selfIntersections(mesh, sliceContext(context, 0.3, 0.6), fresh).count;
    if (crossingPairs > 0 && tears === 0) {
      const free = freeOfCrossings(mesh, fresh, scale, sliceContext(context, 0.6, 1));
      if (free) {
        volumeChange = shareChanged(mesh, free);
        mesh = free;
        mended = true;
        crossingPairs = 0;
      }
    }
    if (crossingPairs === 0 && !fresh.includes(0)) noteUncrossed(mesh);
  }
  return {
    mesh: mended ? mesh : made,
    proof: { sound: tears === 0 && crossingPairs === 0, crossingPairs, tears, flatShells, mended, volumeChange },
  };
}
