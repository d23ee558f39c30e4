/** A screw with its nut, mm. */
export interface BoltSize {
  name: string;
  thread: number;
  /** clearance hole, medium series: ISO 273 */
  hole: number;
  /** across the flats and height of a hexagon nut: ISO 4032 (m max) */
  nutFlats: number;
  nutHeight: number;
  /** head of a socket head cap screw: ISO 4762 (dk max, k max) */
  head: number;
  headHeight: number;
}

/** Metric screws that makers keep, the smallest first. Sources: ISO 273:1979 medium, ISO 4032:2012, ISO 4762:2004 (from memory). */
export const boltSizes: readonly BoltSize[] = [
  { name: 'M3', thread: 3, hole: 3.4, nutFlats: 5.5, nutHeight: 2.4, head: 5.5, headHeight: 3 },
  { name: 'M4', thread: 4, hole: 4.5, nutFlats: 7, nutHeight: 3.2, head: 7, headHeight: 4 },
  { name: 'M5', thread: 5, hole: 5.5, nutFlats: 8, nutHeight: 4.7, head: 8.5, headHeight: 5 },
  { name: 'M6', thread: 6, hole: 6.6, nutFlats: 10, nutHeight: 5.2, head: 10, headHeight: 6 },
];

/** Lengths in which screws are sold, mm: ISO 4762, preferred. */
export const boltLengths: readonly number[] = [6, 8, 10, 12, 16, 20, 25, 30, 35, 40, 45, 50];

/** Disc magnets that are sold everywhere, across and thick, mm, the largest first (common practice). */
export const magnetSizes: readonly { across: number; thick: number }[] = [
  { across: 10, thick: 3 },
  { across: 8, thick: 3 },
  { across: 6, thick: 2 },
  { across: 5, thick: 2 },
  { across: 4, thick: 2 },
  { across: 3, thick: 1 },
];

/** Pins and dowels across, mm, the largest first (common practice). */
export const pinSizes: readonly number[] = [12, 10, 8, 6, 5, 4, 3, 2];
