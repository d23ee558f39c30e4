import type { CrossSection } from 'manifold-3d';
import { roomiestPlaces } from '../../../planning/cuts/roomiestPlaces.ts';
import { pointsAlong, whereIn, type Ring } from '../../../section/rings.ts';

/** A point of a face, mm. */
export type Point = [number, number];

export const apartOf2 = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

const most = 60;

/** Points of a region that may be taken as its extremes: corners of its outline, and points between. */
export function extremesOf(region: CrossSection): Point[] {
  const rings = region.toPolygons() as Ring[];
  const { min, max } = region.bounds();
  return pointsAlong(rings, Math.max(1, Math.hypot(max[0] - min[0], max[1] - min[1]) / 24), most);
}

/** The two points, one of each region, that lie farthest apart. */
export function farthestPair(first: readonly Point[], second: readonly Point[]): [Point, Point] | null {
  let best: [Point, Point] | null = null;
  let far = 0;
  for (const p of first)
    for (const q of second) {
      const d = apartOf2(p, q);
      if (d <= far) continue;
      far = d;
      best = [p, q];
    }
  return best;
}

/** The point that is farthest from all that are taken, if it is `least` away from them. */
export function nextFarthest(points: readonly Point[], taken: readonly Point[], least: number): Point | null {
  let best: Point | null = null;
  let far = least;
  for (const p of points) {
    const d = Math.min(...taken.map((t) => apartOf2(p, t)));
    if (d < far) continue;
    far = d;
    best = p;
  }
  return best;
}

/** The point of a region farthest from its outline; where it is too narrow for that, a corner of it. */
export function middleOfRegion(region: CrossSection): Point | null {
  const [place] = roomiestPlaces(region, 1, 0);
  if (place && holdsPoint(region, [place.u, place.v])) return [place.u, place.v];
  return extremesOf(region)[0] ?? null;
}

/** Is a point within a region? */
export const holdsPoint = (region: CrossSection, [x, y]: Point): boolean => whereIn(region.toPolygons(), x, y).inside;

/** How far a line from a point of a region stays inside it, mm, at most `longest`. */
export function runInside(region: CrossSection, [x, y]: Point, angle: number, longest: number): number {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  let far = longest;
  for (const ring of region.toPolygons() as Ring[])
    for (let a = 0, b = ring.length - 1; a < ring.length; b = a++) {
      // corners in the frame of the line: along it, and beside it
      const [x1, y1] = [ring[b][0] - x, ring[b][1] - y];
      const [x2, y2] = [ring[a][0] - x, ring[a][1] - y];
      const n1 = y1 * c - x1 * s;
      const n2 = y2 * c - x2 * s;
      if (n1 >= 0 === n2 >= 0) continue;
      const along = x1 * c + y1 * s + ((x2 - x1) * c + (y2 - y1) * s) * (n1 / (n1 - n2));
      if (along > 1e-9 && along < far) far = along;
    }
  return far;
}
