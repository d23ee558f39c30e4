import type { CleanBox, CleanPlace } from '@jasmorphe/core/planning/cuts/CleanBox';
import { MeshError } from '@jasmorphe/core/run/MeshError';

/**
 * Boxes in which nothing may stand.
 *
 * @throws MeshError `bad-params` where one of them is a spot
 */
export function boxesOf(places: readonly CleanPlace[]): CleanBox[] {
  const boxes = places.filter((p): p is CleanBox => 'min' in p);
  if (boxes.length < places.length)
    throw new MeshError('bad-params', 'A place that is kept bare is a box.', 'Give it as x,y,z:x,y,z.', 'bare');
  return boxes;
}
