import { treeOf } from '../../mesh/Bvh.ts';
import type { TriMesh, Vec3 } from '../../mesh/TriMesh.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import { layerUnder, topOfLayer } from './layerBounds.ts';

/** A thing that is dropped into a hollow while it is printed. */
export interface Insert {
  /** ground and roof of the hollow over that place, above the bed; null where it has no roof */
  floorMm: number;
  roofMm: number | null;
  /** the last stop at which it still goes in: after that layer, at that height; null where it always does */
  afterLayer: number | null;
  atMm: number | null;
  /** by how much it stands out over what is laid by then; below 0 the head clears it, mm; null where nothing closes over it */
  standsOutMm: number | null;
}

/**
 * When a thing must be put into a hollow, so that the layers close over it: before the roof begins. Null where that place
 * is not in the open.
 *
 * @param mesh as it lies, with the bed at height `floor`
 * @param at a point within the hollow, as it lies
 */
export function insertAt(
  mesh: TriMesh,
  at: Vec3,
  heightMm: number,
  floor: number,
  profile: PrinterProfile,
): Insert | null {
  const tree = treeOf(mesh);
  const down = tree.firstHit(at, [0, 0, -1], 0);
  const up = tree.firstHit(at, [0, 0, 1], 0);
  const ground = down === Infinity ? 0 : at[2] - down - floor;
  const roofMm = up === Infinity ? null : at[2] + up - floor;
  // within flesh the skin above looks up, not down
  if (up !== Infinity && tree.lastHit >= 0 && looksUp(mesh, tree.lastHit)) return null;
  if (roofMm === null) return { floorMm: ground, roofMm, afterLayer: null, atMm: null, standsOutMm: null };
  const afterLayer = layerUnder(roofMm, profile);
  const atMm = topOfLayer(afterLayer, profile);
  return { floorMm: ground, roofMm, afterLayer, atMm, standsOutMm: ground + heightMm - atMm };
}

function looksUp({ positions: p, triangles: t }: TriMesh, i: number): boolean {
  const [a, b, c] = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
  return (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]) > 0;
}
