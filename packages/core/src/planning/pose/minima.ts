import type { TriMesh } from '../../mesh/TriMesh.ts';

/** Neighbours of each corner of a mesh: those of corner v from `start[v]` to `start[v + 1]`. */
export interface Neighbours {
  start: Uint32Array;
  of: Uint32Array;
}

/** Each neighbour once for every triangle that leads to it. */
export function neighboursOf({ positions, triangles: t }: TriMesh): Neighbours {
  const n = positions.length / 3;
  const start = new Uint32Array(n + 1);
  for (const v of t) start[v + 1]++;
  for (let v = 0; v < n; v++) start[v + 1] += start[v];
  const of = new Uint32Array(t.length);
  const place = start.slice();
  for (let h = 0; h < t.length; h++) of[place[t[h]]++] = t[h % 3 === 2 ? h - 2 : h + 1];
  return { start, of };
}

/**
 * Places where a closed solid begins in mid-air as it is laid layer on layer: lowest points of its skin, above the bed,
 * with flesh over them. (Critical points of the height: every island of the layers begins at one.)
 *
 * @param heights of the corners
 * @param tilt of each corner: upright share of the normals around it, summed; below 0 flesh is over it
 * @param above lowest points up to this height stand on the bed
 */
export function startsInAir(
  { start, of }: Neighbours,
  heights: Float32Array,
  tilt: Float32Array,
  above: number,
  hair: number,
): number {
  let count = 0;
  const seen = new Set<number>();
  for (let v = 0; v < heights.length; v++) {
    const h = heights[v];
    if (h <= above || start[v] === start[v + 1] || tilt[v] >= 0) continue;
    let lowest = true;
    let level = false;
    for (let k = start[v]; k < start[v + 1] && lowest; k++) {
      const d = heights[of[k]] - h;
      if (d < -hair) lowest = false;
      else if (d <= hair) level = true;
    }
    if (!lowest || seen.has(v)) continue;
    if (level) {
      // a level place counts once, and only where nothing around it is lower
      const queue = [v];
      seen.add(v);
      while (queue.length > 0) {
        const u = queue.pop()!;
        for (let k = start[u]; k < start[u + 1]; k++) {
          const w = of[k];
          const d = heights[w] - heights[u];
          if (d < -hair) lowest = false;
          else if (d <= hair && !seen.has(w)) {
            seen.add(w);
            queue.push(w);
          }
        }
      }
    }
    if (lowest) count++;
  }
  return count;
}
