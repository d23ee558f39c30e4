import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';

/** So near to where something speaks for a plane it is meant there, as a share of the model's size along the axis. */
const nearShare = 0.012;
/** Beds counted from either end of the model. */
const mostBeds = 20;

/**
 * Where a plane across an axis settles when it is let go at an offset: where a flat begins, at the middle of the model,
 * or whole beds from either of its ends; whatever is nearest, a flat before all else that is as near. Its own offset
 * where nothing is near.
 *
 * @param rooms that parts may lie in, mm; any of their sides may lie along the axis
 */
export function settled(
  offset: number,
  { from, size }: { from: number; size: number },
  flats: readonly number[],
  rooms: readonly Vec3[],
): number {
  const beds = [...new Set(rooms.flat())].flatMap((side) =>
    Array.from({ length: Math.min(mostBeds, Math.floor(size / side)) }, (_, i) => (i + 1) * side).flatMap((far) => [
      from + far,
      from + size - far,
    ]),
  );
  const places = [...flats, from + size / 2, ...beds].filter((at) => at > from && at < from + size);
  let best = offset;
  let nearest = nearShare * size;
  for (const at of places) {
    const away = Math.abs(at - offset);
    if (away < nearest) {
      nearest = away;
      best = at;
    }
  }
  return best;
}
