/** What a spool or bottle is weighed with, g. */
export interface SpoolWeights {
  /** as bought, with what it is wound on */
  grossG: number;
  /** what it is wound on alone */
  emptyG: number;
}

/** Something that was said of a spool, in the order in which it was said. */
export interface SpoolEntry {
  /** gross where it was weighed, net where it was used, g */
  kind: 'weighed' | 'used';
  grams: number;
}

/** Grams that are left: what it last weighed, or what it was bought with, less what was used since. Never below 0. */
export function gramsLeft({ grossG, emptyG }: SpoolWeights, entries: readonly SpoolEntry[]): number {
  let left = grossG - emptyG;
  for (const { kind, grams } of entries) left = kind === 'weighed' ? grams - emptyG : left - grams;
  return Math.max(0, left);
}

/**
 * Metres of filament of that mass: volume over the area of its round section.
 *
 * @param diameterMm of the filament
 * @param densityGCm3 of the material
 */
export const metresOf = (grams: number, diameterMm: number, densityGCm3: number): number =>
  grams / densityGCm3 / ((Math.PI / 4) * (diameterMm / 10) ** 2) / 100;
