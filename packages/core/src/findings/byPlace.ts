import { UnionFind } from '../mesh/UnionFind.ts';

/** Steps to half of the 26 neighbours of a grid cell, and to itself: each pair of cells is looked at once. */
const halfAround = [-1, 0, 1].flatMap((x) => [-1, 0, 1].flatMap((y) => [-1, 0, 1].map((z) => [x, y, z]))).slice(13);

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
  const cells = new Map<string, number[]>();
  const keyOf = (x: number, y: number, z: number) => `${x},${y},${z}`;
  const cellOf = (i: number) => [0, 1, 2].map((k) => Math.floor(points[3 * i + k] / reach));
  for (let place = 0; place < list.length; place++) {
    const [x, y, z] = cellOf(list[place]);
    const key = keyOf(x, y, z);
    const cell = cells.get(key);
    if (cell) cell.push(place);
    else cells.set(key, [place]);
  }
  const sets = new UnionFind(list.length);
  for (const own of cells.values()) {
    const [x, y, z] = cellOf(list[own[0]]);
    for (const [dx, dy, dz] of halfAround) {
      const others = dx === 0 && dy === 0 && dz === 0 ? own : cells.get(keyOf(x + dx, y + dy, z + dz));
      if (!others) continue;
      for (const a of own)
        for (const b of others) {
          if (a === b) continue;
          const i = 3 * list[a];
          const j = 3 * list[b];
          const d =
            (points[i] - points[j]) ** 2 + (points[i + 1] - points[j + 1]) ** 2 + (points[i + 2] - points[j + 2]) ** 2;
          if (d <= reach * reach) sets.union(a, b);
        }
    }
  }
  for (let i = 0; i < pairs.length; i += 2) sets.union(pairs[i], pairs[i + 1]);
  const { label, count } = sets.labels();
  const groups: number[][] = Array.from({ length: count }, () => []);
  for (let place = 0; place < list.length; place++) groups[label[place]].push(list[place]);
  return groups.sort((a, b) => b.length - a.length);
}
