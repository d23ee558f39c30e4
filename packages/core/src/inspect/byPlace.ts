import { UnionFind } from '../mesh/UnionFind.ts';

/**
 * Steps to half of the cells that a sample can reach into from a grid cell whose diagonal is the reach: two each way. Each
 * pair of cells is looked at once, and the nearest ones first, so that most of the others are found united already.
 */
const ways = [-2, -1, 0, 1, 2].flatMap((x) =>
  [-2, -1, 0, 1, 2].flatMap((y) => [-2, -1, 0, 1, 2].map((z) => [x, y, z])),
);
const halfAround = ways.slice((ways.length + 1) / 2).sort((p, q) => Math.hypot(...p) - Math.hypot(...q));

/**
 * Groups of samples whose neighbours lie within `reach`, the largest first.
 *
 * @param points x, y, z each
 * @param list numbers of the samples that count
 * @param pairs places in `list` that belong together whatever their distance, two each
 */
export function byPlace(
  points: Float32Array,
  list: ArrayLike<number>,
  reach: number,
  pairs: number[] = [],
): number[][] {
  const side = (reach / Math.sqrt(3)) * (1 - 1e-6);
  const cells = new Map<string, number[]>();
  const keyOf = (x: number, y: number, z: number) => `${x},${y},${z}`;
  const cellOf = (i: number) => [0, 1, 2].map((k) => Math.floor(points[3 * i + k] / side));
  const sets = new UnionFind(list.length);
  for (let place = 0; place < list.length; place++) {
    const [x, y, z] = cellOf(list[place]);
    const key = keyOf(x, y, z);
    const cell = cells.get(key);
    if (cell) {
      // all of a cell lie within reach of each other
      sets.union(cell[0], place);
      cell.push(place);
    } else cells.set(key, [place]);
  }
  const within = (a: number, b: number): boolean => {
    const i = 3 * list[a];
    const j = 3 * list[b];
    const d =
      (points[i] - points[j]) ** 2 + (points[i + 1] - points[j + 1]) ** 2 + (points[i + 2] - points[j + 2]) ** 2;
    return d <= reach * reach;
  };
  const all = Array.from(cells.values(), (own) => ({ own, at: cellOf(list[own[0]]) }));
  for (const [dx, dy, dz] of halfAround)
    for (const { own, at } of all) {
      const others = cells.get(keyOf(at[0] + dx, at[1] + dy, at[2] + dz));
      if (!others || sets.find(own[0]) === sets.find(others[0])) continue;
      if (own.some((a) => others.some((b) => within(a, b)))) sets.union(own[0], others[0]);
    }
  for (let i = 0; i < pairs.length; i += 2) sets.union(pairs[i], pairs[i + 1]);
  const { label, count } = sets.labels();
  const groups: number[][] = Array.from({ length: count }, () => []);
  for (let place = 0; place < list.length; place++) groups[label[place]].push(list[place]);
  return groups.sort((a, b) => b.length - a.length);
}
