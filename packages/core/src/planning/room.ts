import { MeshError } from '../run/MeshError.ts';
import type { Vec3 } from '../mesh/TriMesh.ts';
import type { BedSettings, KeepOut, NamedBed } from '../params/checks.ts';

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

/**
 * The largest upright rectangle of a bed that keeps clear of its sides by the margin and of its keep-outs. The corners of
 * the best one lie on sides of keep-outs or of the bed, so all such are tried.
 *
 * @throws MeshError `bad-params` when nothing is left
 */
export const roomBeside = (bed: readonly number[], margin: number, keepOuts: readonly KeepOut[]): Vec3 =>
  rectangleBeside(bed, margin, keepOuts).room;

/** The same, with where its front left corner lies on the bed, mm. */
export function rectangleBeside(
  bed: readonly number[],
  margin: number,
  keepOuts: readonly KeepOut[],
): { room: Vec3; corner: [number, number] } {
  const [, , z] = roomOf(bed, margin);
  const far = [bed[0] - margin, bed[1] - margin];
  const edges = [0, 1].map((k) =>
    [...new Set([margin, far[k], ...keepOuts.flatMap(({ min, max }) => [min[k], max[k]])])]
      .filter((e) => e >= margin && e <= far[k])
      .sort((a, b) => a - b),
  );
  let best: [number, number] = [0, 0];
  let corner: [number, number] = [0, 0];
  for (const x0 of edges[0])
    for (const x1 of edges[0].filter((x) => x > x0)) {
      const across = keepOuts.filter(({ min, max }) => min[0] < x1 && max[0] > x0);
      for (const y0 of edges[1])
        for (const y1 of edges[1]) {
          if ((x1 - x0) * (y1 - y0) <= best[0] * best[1] || y1 <= y0) continue;
          if (across.some(({ min, max }) => min[1] < y1 && max[1] > y0)) continue;
          best = [x1 - x0, y1 - y0];
          corner = [x0, y0];
        }
    }
  if (!(best[0] > 0))
    throw new MeshError('bad-params', 'The keep-outs leave no room on the bed.', 'Take some of them away.', 'beds');
  return { room: [best[0], best[1], z], corner };
}

/** A bed with what may be used of it, mm, and what prints on it where that was said. */
export interface RoomOfBed extends BedSettings {
  name: string;
  room: Vec3;
}

/**
 * Rooms of the beds that parts may lie on: those named, or the one bed.
 *
 * @param margin of beds that say nothing of their own, mm
 */
export const roomsOf = (bed: readonly number[], margin: number, beds?: readonly NamedBed[]): RoomOfBed[] =>
  (beds ?? [{ name: '', bed: bed as [number, number, number] }]).map(({ bed: own, keepOuts, margin: kept, ...b }) => ({
    ...b,
    room: roomBeside(own, kept ?? margin, keepOuts ?? []),
  }));
