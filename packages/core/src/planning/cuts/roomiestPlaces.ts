import type { CrossSection } from 'manifold-3d';

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
  const polygons = face.toPolygons();
  if (polygons.length === 0) return [];
  const { min, max } = face.bounds();
  const steps = 36;
  const candidates: { u: number; v: number; radius: number }[] = [];
  for (let i = 0; i < steps; i++)
    for (let j = 0; j < steps; j++) {
      const u = min[0] + ((max[0] - min[0]) * (i + 0.5)) / steps;
      const v = min[1] + ((max[1] - min[1]) * (j + 0.5)) / steps;
      let inside = false;
      let nearest = Infinity;
      for (const polygon of polygons)
        for (let a = 0, b = polygon.length - 1; a < polygon.length; b = a++) {
          const [x1, y1] = polygon[b];
          const [x2, y2] = polygon[a];
          if (y2 > v !== y1 > v && u < ((x1 - x2) * (v - y2)) / (y1 - y2) + x2) inside = !inside;
          const dx = x2 - x1;
          const dy = y2 - y1;
          const s = Math.max(0, Math.min(1, ((u - x1) * dx + (v - y1) * dy) / (dx * dx + dy * dy || 1)));
          nearest = Math.min(nearest, Math.hypot(u - x1 - s * dx, v - y1 - s * dy));
        }
      if (inside && nearest >= least) candidates.push({ u, v, radius: nearest });
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
