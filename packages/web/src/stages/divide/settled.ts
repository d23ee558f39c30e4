import { dot, vec3 } from '@jasmorphe/core/mesh/transform';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import type { Mirror } from '@jasmorphe/core/planning/cuts/symmetry';

/** So near to where something speaks for a plane it is meant there, as a share of the model's size along the axis. */
const nearShare = 0.012;
/** Beds counted from either end of the model. */
const mostBeds = 20;

/** Turned so near to a plane of symmetry it is meant to lie in it: 3 degrees. */
const nearTurn = Math.cos((3 * Math.PI) / 180);
/** A plane that is moved stays as it lies: one along a plane of symmetry already may settle in it. */
const along = 0.9999;

/**
 * The plane that a model is mirrored in, in which a plane settles that was let go near it, facing as that does; null where
 * it is near none.
 *
 * @param turned it was turned, and not only moved
 */
export function settledInMirror(
  { normal, offset }: Mirror,
  mirrors: readonly Mirror[],
  { middle, longest }: { middle: Vec3; longest: number },
  turned: boolean,
): Mirror | null {
  for (const m of mirrors) {
    const cos = dot(normal, m.normal);
    if (Math.abs(cos) < (turned ? nearTurn : along)) continue;
    // how far the two are from each other where the model is
    const far = dot(m.normal, middle) - m.offset;
    const inMirror = vec3((k) => middle[k] - far * m.normal[k]);
    if (Math.abs(dot(normal, inMirror) - offset) >= nearShare * longest) continue;
    return cos > 0 ? m : { normal: vec3((k) => -m.normal[k]), offset: -m.offset };
  }
  return null;
}

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
