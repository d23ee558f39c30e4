import type { CrossSection } from 'manifold-3d';
import { whereIn } from '../../section/rings.ts';

/**
 * Places well inside a face: the point farthest from its outline, then others at least `apart` from those before.
 *
 * @returns u, v and the free radius around each
 */
export function roomiestPlaces(
  face: CrossSection,
  most: number,
  least: number,
): { u: number; v: number; radius: number }[] {
  // what is finer than this does not move a place
  const { min: low, max: high } = face.bounds();
  const plain = face.simplify(Math.hypot(high[0] - low[0], high[1] - low[1]) / 2000);
  const polygons = plain.toPolygons();
  plain.delete();
  if (polygons.length === 0) return [];
  const [min, max] = [low, high];
  const steps = 36;
  const candidates: { u: number; v: number; radius: number }[] = [];
  for (let i = 0; i < steps; i++)
    for (let j = 0; j < steps; j++) {
      const u = min[0] + ((max[0] - min[0]) * (i + 0.5)) / steps;
      const v = min[1] + ((max[1] - min[1]) * (j + 0.5)) / steps;
      const { inside, distance } = whereIn(polygons, u, v);
      if (inside && distance >= least) candidates.push({ u, v, radius: distance });
    }
  const chosen: typeof candidates = [];
  const span = Math.hypot(max[0] - min[0], max[1] - min[1]);
  while (chosen.length < most && candidates.length > 0) {
    let best = -1;
    let score = 0;
    candidates.forEach((c, i) => {
      const apart = chosen.length === 0 ? span : Math.min(...chosen.map((p) => Math.hypot(p.u - c.u, p.v - c.v)));
      if (apart < span / 4 && chosen.length > 0) return;
      const s = c.radius * (chosen.length === 0 ? 1 : apart / span);
      if (s > score) {
        score = s;
        best = i;
      }
    });
    if (best < 0) break;
    chosen.push(candidates[best]);
  }
  return chosen;
}
