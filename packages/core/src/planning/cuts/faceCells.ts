import earcut from 'earcut';
import { whereIn } from '../../section/rings.ts';

/** Rings of the section at a plane, each by the numbers of points; outlines to the left about the normal, holes to the right. */
export function ringsOf(ends: readonly number[], points: number): number[][] {
  // most points have one way on, some of a skin that touches itself have more
  const first = new Int32Array(points).fill(-1);
  const other = new Int32Array(ends.length / 2).fill(-1);
  for (let s = ends.length / 2 - 1; s >= 0; s--) {
    other[s] = first[ends[2 * s]];
    first[ends[2 * s]] = s;
  }
  const rings: number[][] = [];
  for (let start = 0; start < points; start++)
    while (first[start] >= 0) {
      const ring: number[] = [];
      let at = start;
      do {
        const s = first[at];
        if (s < 0) break;
        first[at] = other[s];
        ring.push(at);
        at = ends[2 * s + 1];
      } while (at !== start);
      if (ring.length > 2) rings.push(ring);
    }
  return rings;
}

const areaOf = (flat: Float64Array, ring: readonly number[]): number => {
  let twice = 0;
  let b = ring[ring.length - 1];
  for (const a of ring) {
    twice += flat[2 * b] * flat[2 * a + 1] - flat[2 * a] * flat[2 * b + 1];
    b = a;
  }
  return twice / 2;
};

/** Outlines, each with its holes. */
export function areasOf(flat: Float64Array, rings: readonly number[][]): { rings: number[][]; areaMm2: number }[] {
  const areas = rings.map((ring) => areaOf(flat, ring));
  const outlines = rings.flatMap((ring, i) =>
    areas[i] > 0 ? [{ rings: [ring], areaMm2: areas[i], own: areas[i] }] : [],
  );
  outlines.sort((a, b) => a.own - b.own);
  const at = (i: number): [number, number] => [flat[2 * i], flat[2 * i + 1]];
  const isIn = (ring: readonly number[], i: number): boolean => whereIn([ring.map(at)], ...at(i)).inside;
  rings.forEach((hole, i) => {
    if (!(areas[i] < 0)) return;
    const around = outlines.find((o) => o.own > -areas[i] && isIn(o.rings[0], hole[0]));
    if (!around) return;
    around.rings.push(hole);
    around.areaMm2 += areas[i];
  });
  return outlines;
}

/** Triangles of an outline with its holes, to the left; along straight stretches some have no area, so that no point is left out. */
export function cellsOf(flat: Float64Array, rings: readonly number[][]): [number, number, number][] {
  const all = rings.flat();
  const holes: number[] = [];
  for (let i = 0, at = 0; i + 1 < rings.length; i++) holes.push((at += rings[i].length));
  const cells = earcut(
    all.flatMap((i) => [flat[2 * i], flat[2 * i + 1]]),
    holes,
  );
  const used = new Set(cells.map((i) => all[i]));
  const out: [number, number, number][] = [];
  for (let i = 0; i < cells.length; i += 3) {
    const [a, b, c] = [all[cells[i]], all[cells[i + 1]], all[cells[i + 2]]];
    const twice =
      (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
      (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
    out.push(twice < 0 ? [a, c, b] : [a, b, c]);
  }
  // ear clipping leaves out points on a straight line between others
  for (const ring of rings) {
    const n = ring.length;
    const start = ring.findIndex((i) => used.has(i));
    for (let i = 0, last = start; start >= 0 && i < n; i++) {
      const at = ring[(start + i + 1) % n];
      if (used.has(at)) last = (start + i + 1) % n;
      else out.push([ring[last], at, ring[(start + i + 2) % n]]);
    }
  }
  return out;
}
