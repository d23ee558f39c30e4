import { findDuplicates } from './duplicates.ts';
import { MeshError } from '../run/MeshError.ts';
import { whole } from '../words/numbers.ts';
import { vertexCount, type TriMesh } from './TriMesh.ts';

/** Pairs of triangles that share a corner: of a fine surface a dozen to each triangle, of a round cap half the square of its edges. */
const pairsAtMost = (triangles: number): number => 100_000_000 + 100 * triangles;

const pairsOf = (at: Uint32Array): number => at.reduce((sum, k) => sum + (k * (k - 1)) / 2, 0);

/**
 * Refuses a mesh in which so many triangles meet in one corner that looking at what they do to one another would take hours: it
 * is no skin of a thing.
 *
 * @param mesh welded
 * @throws MeshError `cannot`, with the corner or the edge
 */
export function refuseCrowds(mesh: TriMesh): void {
  const { positions, triangles } = mesh;
  const at = new Uint32Array(vertexCount(mesh));
  for (const v of triangles) at[v]++;
  const most = pairsAtMost(triangles.length / 3);
  if (pairsOf(at) <= most) return;
  // copies of one triangle are told apart at a glance
  const { flags } = findDuplicates(mesh);
  triangles.forEach((v, i) => (at[v] -= flags[Math.floor(i / 3)]));
  if (pairsOf(at) <= most) return;
  const worst = at.reduce((w, k, v) => (k > at[w] ? v : w), 0);
  // all on one edge, or round the corner?
  const across = new Map<number, number>();
  let other = worst;
  for (let i = 0; i < triangles.length; i += 3) {
    const corners = triangles.subarray(i, i + 3);
    if (flags[i / 3] === 1 || !corners.includes(worst)) continue;
    for (const v of corners) {
      if (v === worst) continue;
      across.set(v, (across.get(v) ?? 0) + 1);
      if ((across.get(v) ?? 0) > (across.get(other) ?? 0)) other = v;
    }
  }
  const place = (v: number): string =>
    [...positions.subarray(3 * v, 3 * v + 3)].map((x) => Number(x.toPrecision(6))).join(', ');
  const onEdge = across.get(other) ?? 0;
  throw new MeshError(
    'cannot',
    onEdge > at[worst] / 2
      ? `${whole(onEdge)} triangles hang on one edge, from ${place(worst)} to ${place(other)}: that is the skin of nothing.`
      : `${whole(at[worst])} triangles meet in one corner, at ${place(worst)}: that is the skin of nothing.`,
    'Look there in the program that made it, take them out, and export it again.',
  );
}
