/** Size of a flag with a little air around it, px. */
const wide = 30;
const high = 22;

/** Where a flag may stand off its place: right above first, then round and farther out. Middle of the flag, px. */
const stands: [number, number][] = [];
for (const reach of [34, 52, 72, 94, 118])
  for (const turn of [40, 75, 10, 110, -25, 145, -60, 180, -95, -145])
    stands.push([reach * 1.2 * Math.cos((turn * Math.PI) / 180), -reach * Math.sin((turn * Math.PI) / 180)]);

/**
 * Sets flags beside their places so that none covers another or leaves the sheet, the first in the list nearest.
 *
 * @param places px, null where a place cannot be seen
 * @returns middle of each flag relative to its place, px
 */
export function standFlags(
  places: ([number, number] | null)[],
  width: number,
  height: number,
): ([number, number] | null)[] {
  const taken: [number, number][] = [];
  return places.map((place) => {
    if (!place) return null;
    let best = stands[0];
    let least = Infinity;
    for (const stand of stands) {
      const x = place[0] + stand[0];
      const y = place[1] + stand[1];
      let cover = 0;
      for (const [u, v] of taken) {
        const over = Math.min(wide - Math.abs(u - x), 0.8 * wide) * Math.min(high - Math.abs(v - y), 0.8 * high);
        if (Math.abs(u - x) < wide && Math.abs(v - y) < high) cover += over;
      }
      // a flag over another place hides it, which is less bad
      for (const other of places)
        if (other && Math.abs(other[0] - x) < wide / 2 && Math.abs(other[1] - y) < high / 2) cover += 30;
      if (x < wide / 2 || y < high / 2 || x > width - wide / 2 || y > height - high / 2) cover += 2000;
      if (cover < least) {
        least = cover;
        best = stand;
      }
      if (cover === 0) break;
    }
    taken.push([place[0] + best[0], place[1] + best[1]]);
    return best;
  });
}
