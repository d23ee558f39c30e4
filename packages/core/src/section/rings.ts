/** A closed outline: x, y of its corners. */
export type Ring = readonly (readonly [number, number])[];

/** Is a point within outlines, holes taken out, and how far is it from the nearest of them, mm? */
export function whereIn(rings: readonly Ring[], x: number, y: number): { inside: boolean; distance: number } {
  let inside = false;
  let nearest = Infinity;
  for (const ring of rings) {
    let [x1, y1] = ring[ring.length - 1];
    for (let i = 0; i < ring.length; i++) {
      const x2 = ring[i][0];
      const y2 = ring[i][1];
      if (y2 > y !== y1 > y && x < ((x1 - x2) * (y - y2)) / (y1 - y2) + x2) inside = !inside;
      const dx = x2 - x1;
      const dy = y2 - y1;
      let s = ((x - x1) * dx + (y - y1) * dy) / (dx * dx + dy * dy || 1);
      s = s < 0 ? 0 : s > 1 ? 1 : s;
      const u = x - x1 - s * dx;
      const v = y - y1 - s * dy;
      const d = u * u + v * v;
      if (d < nearest) nearest = d;
      x1 = x2;
      y1 = y2;
    }
  }
  return { inside, distance: Math.sqrt(nearest) };
}

/** Corners of outlines, and points between those that are farther apart than `step`, mm; at most about `most`. */
export function pointsAlong(rings: readonly Ring[], step: number, most: number): [number, number][] {
  const out: [number, number][] = [];
  for (const ring of rings)
    ring.forEach(([x, y], i) => {
      const [u, v] = ring[(i + 1) % ring.length];
      const pieces = Math.max(1, Math.floor(Math.hypot(u - x, v - y) / step));
      for (let k = 0; k < pieces; k++) out.push([x + ((u - x) * k) / pieces, y + ((v - y) * k) / pieces]);
    });
  const every = Math.ceil(out.length / most);
  return every > 1 ? out.filter((_, i) => i % every === 0) : out;
}

/** Middle and main direction of what outlines enclose, by its second moments (closed formula for polygons), radians. */
export function lieOf(rings: readonly Ring[]): { x: number; y: number; angle: number } {
  let area = 0;
  const first = [0, 0];
  const second = [0, 0, 0];
  for (const ring of rings)
    ring.forEach(([x1, y1], i) => {
      const [x2, y2] = ring[(i + 1) % ring.length];
      const c = x1 * y2 - x2 * y1;
      area += c / 2;
      first[0] += (c * (x1 + x2)) / 6;
      first[1] += (c * (y1 + y2)) / 6;
      second[0] += (c * (x1 * x1 + x1 * x2 + x2 * x2)) / 12;
      second[1] += (c * (y1 * y1 + y1 * y2 + y2 * y2)) / 12;
      second[2] += (c * (x1 * y2 + 2 * x1 * y1 + 2 * x2 * y2 + x2 * y1)) / 24;
    });
  const x = first[0] / (area || 1);
  const y = first[1] / (area || 1);
  const xx = second[0] - area * x * x;
  const yy = second[1] - area * y * y;
  const xy = second[2] - area * x * y;
  return { x, y, angle: Math.atan2(2 * xy, xx - yy) / 2 };
}
