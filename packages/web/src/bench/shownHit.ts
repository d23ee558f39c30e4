import type { ThreeEvent } from '@react-three/fiber';
import { Raycaster, type Intersection, type Plane, type Vector3 } from 'three';

/** Where a pointer meets what is shown of a thing: what a plane has cut away is not met. Null where nothing of it is left there. */
export function shownHit({ point, ray, object }: ThreeEvent<MouseEvent>, clip: Plane | null): Vector3 | null {
  if (!clip || clip.distanceToPoint(point) >= 0) return point;
  const hits: Intersection[] = [];
  object.raycast(new Raycaster(ray.origin, ray.direction), hits);
  return hits.sort((a, b) => a.distance - b.distance).find((h) => clip.distanceToPoint(h.point) >= 0)?.point ?? null;
}
