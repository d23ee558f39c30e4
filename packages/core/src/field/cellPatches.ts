/*
 * Cells of a grid by which of their eight corners lie inside. Corner c stands at (c & 1, (c >> 1) & 1, c >> 2); a mask has
 * bit c set where corner c is inside. Edges 0 to 3 run along x, 4 to 7 along y, 8 to 11 along z.
 */

/** Corners at both ends of the twelve edges of a cell. */
const cellEdges: [number, number][] = [
  [0, 1],
  [2, 3],
  [4, 5],
  [6, 7],
  [0, 2],
  [1, 3],
  [4, 6],
  [5, 7],
  [0, 4],
  [1, 5],
  [2, 6],
  [3, 7],
];
/** corners of the six sides, in walking order */
const cellSides = [
  [0, 2, 6, 4],
  [1, 3, 7, 5],
  [0, 1, 5, 4],
  [2, 3, 7, 6],
  [0, 1, 3, 2],
  [4, 5, 7, 6],
];

/**
 * For each mask, the patch of skin that each of the twelve edges belongs to, -1 where it is not crossed: edges are joined
 * across the sides of the cell, inside corners that face each other across a side being kept apart.
 */
export const patchOf = ((): Int8Array => {
  const table = new Int8Array(256 * 12).fill(-1);
  const edgeOf = (a: number, b: number) =>
    cellEdges.findIndex(([c, d]) => (c === a && d === b) || (c === b && d === a));
  for (let mask = 1; mask < 255; mask++) {
    const parent = Array.from({ length: 12 }, (_, i) => i);
    const find = (i: number): number => (parent[i] === i ? i : find(parent[i]));
    const isIn = (c: number) => (mask >> c) & 1;
    for (const s of cellSides) {
      const crossed = [0, 1, 2, 3].filter((i) => isIn(s[i]) !== isIn(s[(i + 1) % 4]));
      const join = (i: number, j: number) =>
        (parent[find(edgeOf(s[i], s[(i + 1) % 4]))] = find(edgeOf(s[j], s[(j + 1) % 4])));
      if (crossed.length === 2) join(crossed[0], crossed[1]);
      else if (crossed.length === 4)
        // the two edges at each inside corner belong together
        for (let i = 0; i < 4; i++) if (isIn(s[i])) join((i + 3) % 4, i);
    }
    const names = new Map<number, number>();
    cellEdges.forEach(([a, b], e) => {
      if (isIn(a) === isIn(b)) return;
      const root = find(e);
      if (!names.has(root)) names.set(root, names.size);
      table[12 * mask + e] = names.get(root)!;
    });
  }
  return table;
})();

/** The crossed edges of a mask, patch by patch: 12 entries a mask, filled up with -1, the first of each patch marked by 16. */
export const edgesByPatch = ((): Int8Array => {
  const table = new Int8Array(256 * 12).fill(-1);
  for (let mask = 0; mask < 256; mask++) {
    let used = 12 * mask;
    for (let patch = 0; patch < 4; patch++) {
      let first = 16;
      for (let e = 0; e < 12; e++)
        if (patchOf[12 * mask + e] === patch) {
          table[used++] = first + e;
          first = 0;
        }
    }
  }
  return table;
})();

/** Patches of skin in a cell, by mask: 0 to 4. */
export const patchCount = Uint8Array.from(
  { length: 256 },
  (_, mask) => 1 + Math.max(...patchOf.subarray(12 * mask, 12 * mask + 12)),
);

/** Flags of the masks with inside and outside in one piece each, along edges, and one patch between them. */
export const isPlain = ((): Uint8Array => {
  const table = new Uint8Array(256);
  const together = (mask: number): boolean => {
    let reached = mask & -mask;
    for (let i = 0; i < 7; i++)
      for (const [a, b] of cellEdges) {
        const pair = (1 << a) | (1 << b);
        if ((mask & pair) === pair && reached & pair) reached |= pair;
      }
    return reached === mask;
  };
  for (let mask = 1; mask < 255; mask++)
    if (together(mask) && together(255 - mask) && patchCount[mask] === 1) table[mask] = 1;
  return table;
})();

/** Number of the cell edge along an axis whose lower end is a corner: 8 entries an axis. */
export const edgeNumber = ((): Int8Array => {
  const table = new Int8Array(24).fill(-1);
  cellEdges.forEach(([a, b], e) => {
    table[8 * Math.log2(a ^ b) + a] = e;
  });
  return table;
})();

/** Which corners of a cube lie inside, a bit each; x, y, z are the steps along its sides. */
export const maskAt = (inside: Uint8Array, at: number, x: number, y: number, z: number): number =>
  inside[at] |
  (inside[at + x] << 1) |
  (inside[at + y] << 2) |
  (inside[at + y + x] << 3) |
  (inside[at + z] << 4) |
  (inside[at + z + x] << 5) |
  (inside[at + z + y] << 6) |
  (inside[at + z + y + x] << 7);
