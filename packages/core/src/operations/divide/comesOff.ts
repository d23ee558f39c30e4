import { treeOf } from '../../mesh/Bvh.ts';
import { dot, vec3 } from '../../mesh/transform.ts';
import { boundsOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { rowsToZ } from '../../planning/cuts/planeFrame.ts';
import { spreadDirections } from '../../planning/cuts/proxySolid.ts';

/** Lines on which is looked, to a side. */
const lines = 56;
/** Parts may be so far in one another's way before it counts, mm: facets of a skin and rounding. */
const slackMm = 0.1;
/** Ways leaning from the first that are tried, and how far they lean at most, as a cosine (70 degrees). */
const ways = spreadDirections(90);
const leastAlong = Math.cos((70 * Math.PI) / 180);

/** Range of some meshes along a direction. */
function rangeAlong(meshes: readonly TriMesh[], row: Vec3): { lo: number; hi: number } {
  let lo = Infinity;
  let hi = -Infinity;
  for (const mesh of meshes) {
    const { min, max } = boundsOf(mesh);
    for (let i = 0; i < 8; i++) {
      const h = dot(row, [i & 1 ? max[0] : min[0], i & 2 ? max[1] : min[1], i & 4 ? max[2] : min[2]]);
      if (h < lo) lo = h;
      if (h > hi) hi = h;
    }
  }
  return { lo, hi };
}

/**
 * Do some parts come off others along a straight way? They do where on every line along it the lowest of what moves lies
 * no lower than the highest of what stays; looked at on a few thousand lines.
 *
 * @param way in which they are taken off, length 1
 */
export function comesOff(moving: readonly TriMesh[], staying: readonly TriMesh[], way: Vec3): boolean {
  const [u, v, w] = rowsToZ(way);
  const spans = [u, v].map((row) => {
    const a = rangeAlong(moving, row);
    const b = rangeAlong(staying, row);
    return { lo: Math.max(a.lo, b.lo), hi: Math.min(a.hi, b.hi) };
  });
  if (spans.some(({ lo, hi }) => !(hi > lo))) return true;
  const all = rangeAlong([...moving, ...staying], w);
  const from = all.lo - 1;
  const to = all.hi + 1;
  const back = vec3((k) => -way[k]);
  const first = (meshes: readonly TriMesh[], origin: Vec3, ray: Vec3): number =>
    Math.min(...meshes.map((mesh) => treeOf(mesh).firstHit(origin, ray, 0)));
  for (let i = 0; i < lines; i++)
    for (let j = 0; j < lines; j++) {
      // off the middle of each cell, so that no line runs along a side of the model
      const a = spans[0].lo + ((spans[0].hi - spans[0].lo) * (i + 0.437)) / lines;
      const b = spans[1].lo + ((spans[1].hi - spans[1].lo) * (j + 0.571)) / lines;
      const at = (h: number): Vec3 => vec3((k) => a * u[k] + b * v[k] + h * w[k]);
      const low = from + first(moving, at(from), way);
      if (low === Infinity) continue;
      const high = to - first(staying, at(to), back);
      if (high > low + slackMm) return false;
    }
  return true;
}

/** A way in which parts come off others: the one that is meant, else the one that leans least from it; null where none was found. */
export function wayOff(moving: readonly TriMesh[], staying: readonly TriMesh[], meant: Vec3): Vec3 | null {
  if (comesOff(moving, staying, meant)) return meant;
  const leaning = ways
    .flatMap(([x, y, z]): Vec3[] => [
      [x, y, z],
      [-x, -y, -z],
    ])
    .filter((way) => dot(way, meant) > leastAlong)
    .sort((p, q) => dot(q, meant) - dot(p, meant));
  return leaning.find((way) => comesOff(moving, staying, way)) ?? null;
}
