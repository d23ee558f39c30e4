import type { RunContext } from '../run/context.ts';
import { crossingsOf, noteUncrossed } from '../mesh/crossings.ts';
import { edgesOf, originOf, splitVertices, starsOf, targetOf } from '../mesh/edges.ts';
import { selfIntersections } from '../mesh/selfIntersections.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { fillHoles } from './fillHoles.ts';
import { Patchwork } from './Patchwork.ts';
import type { Resolved } from './resolveCrossings.ts';
import { separateSheets } from './separateSheets.ts';

/** Rings of triangles worked on around those that a round takes out. */
const reach = 3;

/**
 * Takes out triangles that cross, with a ring that grows where crossing comes back, and closes the holes again
 * (after Attene 2010). Gives up when most of the mesh would go. A round works in the neighbourhood of the crossings
 * alone, and what it made is tested against the whole.
 *
 * @param mesh closed, with two triangles at every edge
 * @param suspects flags of the triangles that may cross anything; all, if left out
 * @param leave told the corners of what still crosses where it gives up, nine numbers a triangle
 * @returns null when crossings are left after the last round
 */
export function settleCrossings(
  mesh: TriMesh,
  scale: number,
  context: RunContext,
  rounds = 4,
  suspects?: Uint8Array,
  leave?: (corners: number[]) => void,
): TriMesh | null {
  context.progress(0, 'Settling crossings');
  const found = suspects
    ? suspects.includes(1)
      ? selfIntersections(mesh, context, suspects)
      : { count: 0, pairs: [] }
    : crossingsOf(mesh, context);
  if (2 * found.count > found.pairs.length) return null;
  return settlePatches(new Patchwork(mesh, scale), found.pairs, rounds, context, leave);
}

/** @param pairs all pairs of triangles of the patchwork that cross */
function settlePatches(
  patches: Patchwork,
  pairs: number[],
  rounds: number,
  context: RunContext,
  leave?: (corners: number[]) => void,
): TriMesh | null {
  const least = patches.size / 2;
  for (let round = 0; pairs.length > 0; round++) {
    context.checkCancelled();
    context.progress(round / (rounds + 1), `Settling crossings, round ${round + 1}`);
    const bad = round === rounds ? [] : patches.around(pairs, round);
    const fresh = round === rounds ? null : patches.redo(new Set(bad), patches.around(bad, reach), context);
    if (!fresh || patches.size < least) {
      leave?.(patches.cornersOf(new Set(pairs)));
      return null;
    }
    pairs = patches.crossings(fresh, context);
  }
  const settled = patches.taken();
  noteUncrossed(settled);
  return settled;
}

/**
 * The mesh of resolved crossings, parted and closed where rounding left it torn, and settled where it left it crossing.
 *
 * @returns null when that did not come to an end
 */
export function settleResolved(resolved: Resolved, scale: number, context: RunContext, rounds = 4): TriMesh | null {
  context.progress(0, 'Settling crossings');
  const patches = new Patchwork(resolved.mesh, scale);
  const pieces = patches.replace(resolved.gone, resolved.points, resolved.pieces);
  const closed = patches.redo(new Set(), patches.around(pieces, 2), context);
  if (!closed) return null;
  const fresh = [...new Set([...pieces, ...closed])].filter((t) => patches.has(t));
  return settlePatches(patches, patches.crossings(fresh, context), rounds, context);
}

/**
 * Parts and closes a mesh where it is torn: at edges that have not two triangles, and at vertices whose star falls into
 * several fans. Only the neighbourhood of such places is touched, unless that fails.
 */
export function healTears(mesh: TriMesh, scale: number, context: RunContext): TriMesh {
  const { order, start, count } = edgesOf(mesh);
  const torn = new Set<number>(splitVertices(mesh));
  // sheets that hang together along an edge of more than two sides make way
  const excess = new Set<number>();
  for (let e = 0; e < count; e++) {
    const sides = start[e + 1] - start[e];
    if (sides === 2) continue;
    torn.add(originOf(mesh, order[start[e]]));
    torn.add(targetOf(mesh, order[start[e]]));
    if (sides > 2) for (let i = start[e]; i < start[e + 1]; i++) excess.add((order[i] / 3) | 0);
  }
  if (torn.size === 0) return mesh;
  const stars = starsOf(mesh);
  const at: number[] = [];
  for (const v of torn) for (let i = stars.start[v]; i < stars.start[v + 1]; i++) at.push(stars.list[i]);
  const patches = new Patchwork(mesh, scale);
  if (patches.redo(excess, patches.around(at, 2), context)) return patches.taken();
  return fillHoles(separateSheets(mesh, 2e-5 * scale).mesh, { limitMm: Infinity, follow: false }, context).mesh;
}
