/** A tag on the screen: the middle of its part, px, and how near that is. */
export interface TagPoint {
  x: number;
  y: number;
  /** less is nearer */
  depth: number;
}

/** Between the middles of tags that stand one over the other, px: what a finger tells apart. */
export const tagPitch = 25;
/** Free at the sides, over and under the columns, px. */
const side = 30;
const over = 44;
const under = 64;

type Point = readonly [number, number];

const turn = (a: Point, b: Point, c: Point): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

/** Do two leaders cross? Ends that touch do not count. */
export function cross(a: Point, b: Point, c: Point, d: Point): boolean {
  const [p, q, r, s] = [turn(a, b, c), turn(a, b, d), turn(c, d, a), turn(c, d, b)];
  return p * q < 0 && r * s < 0;
}

/** The places of one column, from above, as near to the heights of their points as the pitch allows. */
function rowsOf(ys: readonly number[], height: number): number[] {
  const rows = [...ys];
  for (let i = 0; i < rows.length; i++) rows[i] = Math.max(rows[i], i === 0 ? over : rows[i - 1] + tagPitch);
  for (let i = rows.length - 1; i >= 0; i--)
    rows[i] = Math.min(rows[i], i === rows.length - 1 ? height - under : rows[i + 1] - tagPitch);
  return rows;
}

/**
 * Where the tags of a part map stand: in two columns at the sides, with leaders to their parts that neither cross nor
 * overlap (boundary labelling: Bekos, Kaufmann, Symvonis and Wolff 2007). Where two leaders of a column cross, their
 * places are exchanged, which makes both together shorter, so that it comes to an end.
 *
 * @returns the place of each tag, in order; null for the farthest, where there are more than the columns hold
 */
export function placeTags(points: readonly TagPoint[], width: number, height: number): (Point | null)[] {
  const out: (Point | null)[] = points.map(() => null);
  const most = Math.max(0, Math.floor((height - over - under) / tagPitch) + 1);
  const nearest = points
    .map((_, i) => i)
    .sort((a, b) => points[a].depth - points[b].depth)
    .slice(0, 2 * most)
    .sort((a, b) => points[a].x - points[b].x);
  const half = Math.min(most, Math.max(nearest.length - most, Math.ceil(nearest.length / 2)));
  for (const [column, x] of [
    [nearest.slice(0, half), side],
    [nearest.slice(half), width - side],
  ] as const) {
    const order = [...column].sort((a, b) => points[a].y - points[b].y || a - b);
    const rows = rowsOf(
      order.map((i) => points[i].y),
      height,
    );
    const port = (k: number): Point => [x, rows[k]];
    const end = (k: number): Point => [points[order[k]].x, points[order[k]].y];
    for (let swapped = true, turns = 0; swapped && turns < 400; turns++) {
      swapped = false;
      for (let a = 0; a < order.length; a++)
        for (let b = a + 1; b < order.length; b++) {
          if (!cross(port(a), end(a), port(b), end(b))) continue;
          [order[a], order[b]] = [order[b], order[a]];
          swapped = true;
        }
    }
    order.forEach((i, k) => (out[i] = port(k)));
  }
  return out;
}
