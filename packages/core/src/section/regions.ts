import type { Contour, Section } from './Slicer.ts';

/** One connected area of a section: an outer curve and the holes in it. */
export interface Region {
  outer: Contour;
  holes: Contour[];
  areaMm2: number;
  /** x0, y0, x1, y1 */
  box: [number, number, number, number];
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
    .map((outer) => ({ outer, holes: [], areaMm2: outer.areaMm2, box: outer.box }));
  for (const hole of section.contours) {
    if (hole.areaMm2 >= 0) continue;
    const x = hole.points[0];
    const y = hole.points[1];
    const home = regions.find(
      ({ outer, box }) =>
        outer.areaMm2 > -hole.areaMm2 &&
        x >= box[0] &&
        x <= box[2] &&
        y >= box[1] &&
        y <= box[3] &&
        insideContour(outer, x, y),
    );
    if (!home) continue;
    home.holes.push(hole);
    home.areaMm2 += hole.areaMm2;
  }
  return regions;
}

/** Do two regions share an area? By crossing edges, or a point of one that lies in the other. */
export function regionsOverlap(a: Region, b: Region): boolean {
  const x0 = Math.max(a.box[0], b.box[0]);
  const y0 = Math.max(a.box[1], b.box[1]);
  const x1 = Math.min(a.box[2], b.box[2]);
  const y1 = Math.min(a.box[3], b.box[3]);
  if (x0 > x1 || y0 > y1) return false;
  // layers are mostly alike: a corner of one that is in the other settles nearly all of them
  const p = a.outer.points;
  const q = b.outer.points;
  if (insideRegion(b, p[0], p[1]) || insideRegion(a, q[0], q[1])) return true;
  const curvesOfA = [a.outer, ...a.holes];
  const curvesOfB = [b.outer, ...b.holes];
  const own = edgesIn(curvesOfA, x0, y0, x1, y1);
  if (own.length > 0 && edgesCross(own, edgesIn(curvesOfB, x0, y0, x1, y1))) return true;
  // rims that touch without crossing, or one within the other: corners in the common box tell
  const anyIn = (points: Float64Array, edges: Float64Array): boolean => {
    for (let i = 0; i < points.length; i += 2) {
      const x = points[i];
      const y = points[i + 1];
      if (x >= x0 && x <= x1 && y >= y0 && y <= y1 && insideEdges(edges, x, y)) return true;
    }
    return false;
  };
  return (
    anyIn(p, edgesIn(curvesOfB, -Infinity, y0, Infinity, y1)) ||
    anyIn(q, edgesIn(curvesOfA, -Infinity, y0, Infinity, y1))
  );
}

/** Is (x, y) inside curves, by counting the edges to the right; each edge by its lower end. */
function insideEdges(edges: Float64Array, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0; i < edges.length && edges[i + 1] <= y; i += 4)
    if (
      edges[i + 3] > y &&
      x < ((edges[i + 2] - edges[i]) * (y - edges[i + 1])) / (edges[i + 3] - edges[i + 1]) + edges[i]
    )
      inside = !inside;
  return inside;
}

/** Edges of curves that reach into a box: x, y of both ends, four numbers an edge, by their lower ends. */
function edgesIn(curves: Contour[], x0: number, y0: number, x1: number, y1: number): Float64Array {
  const found: number[][] = [];
  for (const { points: p, box } of curves) {
    if (box[0] > x1 || box[2] < x0 || box[1] > y1 || box[3] < y0) continue;
    let x = p[p.length - 2];
    let y = p[p.length - 1];
    for (let i = 0; i < p.length; i += 2) {
      const u = p[i];
      const v = p[i + 1];
      if (!((x < x0 && u < x0) || (x > x1 && u > x1) || (y < y0 && v < y0) || (y > y1 && v > y1)))
        found.push(y < v ? [x, y, u, v] : [u, v, x, y]);
      x = u;
      y = v;
    }
  }
  return Float64Array.from(found.sort((a, b) => a[1] - b[1]).flat());
}

/** Do any two edges of two lists, each by its lower ends, cross? Swept from below. */
function edgesCross(p: Float64Array, q: Float64Array): boolean {
  let live: number[] = [];
  let next = 0;
  for (let i = 0; i < p.length; i += 4) {
    const [ax, ay, bx, by] = p.subarray(i, i + 4);
    for (; next < q.length && q[next + 1] <= by; next += 4) live.push(next);
    live = live.filter((k) => q[k + 3] >= ay);
    for (const k of live) {
      const cx = q[k];
      const cy = q[k + 1];
      const dx = q[k + 2];
      const dy = q[k + 3];
      if (cy > by || Math.max(ax, bx) < Math.min(cx, dx) || Math.max(cx, dx) < Math.min(ax, bx)) continue;
      const o1 = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      const o2 = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
      const o3 = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx);
      const o4 = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx);
      if (o1 * o2 < 0 && o3 * o4 < 0) return true;
    }
  }
  return false;
}
