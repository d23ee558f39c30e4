import { MeshError } from '../run/MeshError.ts';
import type { Vec3 } from '../mesh/TriMesh.ts';

/**
 * Room of a bed less a margin at each side and on top, mm.
 *
 * @throws MeshError `bad-params` when nothing is left
 */
export function roomOf(bed: readonly number[], margin: number): Vec3 {
  const room: Vec3 = [bed[0] - 2 * margin, bed[1] - 2 * margin, bed[2] - margin];
  if (room.some((r) => !(r > 0)))
    throw new MeshError(
      'bad-params',
      `A margin of ${margin} mm leaves no room on a bed of ${bed.join(' × ')} mm.`,
      'Give a smaller margin.',
      'margin',
    );
  return room;
}
