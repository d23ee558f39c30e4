/** Two parts that share a face on a cut. */
export interface SharedFace {
  /** number of the cut */
  cut: number;
  /** numbers of the parts below and above it */
  below: number;
  above: number;
  areaMm2: number;
}

/**
 * Which of two parts carries the pins at each face that they share. A part lies on the bed on a face without pins, so
 * as many parts as can be had are left one cut face that has holes only, the largest first. The part with the fewest
 * faces left to choose from chooses first (after Karp and Sipser 1981, for matchings), among equals the upper one: a lower one
 * often has a base. Where nobody minds, pins are below.
 *
 * @returns true where the part above carries them
 */
export function pinSides(shared: readonly SharedFace[]): boolean[] {
  const above: (boolean | undefined)[] = shared.map(() => undefined);
  // faces by part: the shared faces of a part on one cut lie in one plane
  const faces = new Map<number, Map<number, number[]>>();
  shared.forEach(({ cut, below, above: top }, i) => {
    for (const part of [below, top]) {
      const own = faces.get(part) ?? new Map<number, number[]>();
      faces.set(part, own.set(cut, [...(own.get(cut) ?? []), i]));
    }
  });
  const carries = (part: number, i: number): boolean =>
    above[i] !== undefined && (above[i] ? shared[i].above : shared[i].below) === part;
  const waiting = new Set(faces.keys());
  while (waiting.size > 0) {
    let next = -1;
    let choice: number[] = [];
    let fewest = Infinity;
    let widest = 0;
    for (const part of waiting) {
      const open = [...faces.get(part)!.values()].filter((face) => !face.some((i) => carries(part, i)));
      if (open.length === 0) {
        waiting.delete(part);
        continue;
      }
      const areas = open.map((face) => face.reduce((a, i) => a + shared[i].areaMm2, 0));
      const most = Math.max(...areas);
      if (open.length > fewest || (open.length === fewest && most < widest)) continue;
      next = part;
      fewest = open.length;
      widest = most;
      choice = open[areas.indexOf(most)];
    }
    if (next < 0) break;
    for (const i of choice) above[i] = shared[i].below === next;
    waiting.delete(next);
  }
  return above.map((a) => a ?? false);
}
