import type { Contour, Section } from './Slicer.ts';

/** One connected area of a section: an outer curve and the holes in it. */
export interface Region {
  outer: Contour;
  holes: Contour[];
  areaMm2: number;
  /** x0, y0, x1, y1 */
  box: [number, number, number, number];
}

export function boxOf(c: Contour): [number, number, number, number] {
  let x0 = Infinity;
  let y0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  for (let i = 0; i < c.points.length; i += 2) {
    x0 = Math.min(x0, c.points[i]);
    x1 = Math.max(x1, c.points[i]);
    y0 = Math.min(y0, c.points[i + 1]);
    y1 = Math.max(y1, c.points[i + 1]);
  }
  return [x0, y0, x1, y1];
}

/** Is (x, y) inside the curve, by counting crossings to the right. */
export function insideContour(c: Contour, x: number, y: number): boolean {
  const p = c.points;
  let inside = false;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2)
    if (p[i + 1] > y !== p[j + 1] > y && x < ((p[j] - p[i]) * (y - p[i + 1])) / (p[j + 1] - p[i + 1]) + p[i])
      inside = !inside;
  return inside;
}

export const insideRegion = (r: Region, x: number, y: number): boolean =>
  x >= r.box[0] &&
  x <= r.box[2] &&
  y >= r.box[1] &&
  y <= r.box[3] &&
  insideContour(r.outer, x, y) &&
  !r.holes.some((h) => insideContour(h, x, y));

/** Gathers the curves of a section into regions: each hole goes to the smallest outer curve around it. */
export function regionsOf(section: Section): Region[] {
  const regions: Region[] = section.contours
    .filter((c) => c.areaMm2 > 0)
    .sort((a, b) => a.areaMm2 - b.areaMm2)
    .map((outer) => ({ outer, holes: [], areaMm2: outer.areaMm2, box: boxOf(outer) }));
  for (const hole of section.contours) {
    if (hole.areaMm2 >= 0) continue;
    const x = hole.points[0];
    const y = hole.points[1];
    const home = regions.find((r) => r.outer.areaMm2 > -hole.areaMm2 && insideContour(r.outer, x, y));
    if (!home) continue;
    home.holes.push(hole);
    home.areaMm2 += hole.areaMm2;
  }
  return regions;
}

/** Do two regions share a point? Corners of each in the other, then crossing edges. */
export function regionsOverlap(a: Region, b: Region): boolean {
  if (a.box[0] > b.box[2] || b.box[0] > a.box[2] || a.box[1] > b.box[3] || b.box[1] > a.box[3]) return false;
  const p = a.outer.points;
  for (let i = 0; i < p.length; i += 2) if (insideRegion(b, p[i], p[i + 1])) return true;
  const q = b.outer.points;
  for (let i = 0; i < q.length; i += 2) if (insideRegion(a, q[i], q[i + 1])) return true;
  for (const u of [a.outer, ...a.holes]) for (const v of [b.outer, ...b.holes]) if (curvesCross(u, v)) return true;
  return false;
}

function curvesCross(a: Contour, b: Contour): boolean {
  const p = a.points;
  const q = b.points;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
    const ax = p[j];
    const ay = p[j + 1];
    const bx = p[i];
    const by = p[i + 1];
    for (let k = 0, l = q.length - 2; k < q.length; l = k, k += 2) {
      const cx = q[l];
      const cy = q[l + 1];
      const dx = q[k];
      const dy = q[k + 1];
      if (Math.max(ax, bx) < Math.min(cx, dx) || Math.max(cx, dx) < Math.min(ax, bx)) continue;
      if (Math.max(ay, by) < Math.min(cy, dy) || Math.max(cy, dy) < Math.min(ay, by)) continue;
      const o1 = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      const o2 = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
      const o3 = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx);
      const o4 = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx);
      if (o1 * o2 < 0 && o3 * o4 < 0) return true;
    }
  }
  return false;
}
