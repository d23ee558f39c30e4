import { guessUnit, type LengthUnit, type StatedUnit } from '../formats/units.ts';

/** A piece as far as its unit goes. */
export interface ReadPiece {
  name: string;
  /** as the file has it, in whatever unit */
  fileSize: { x: number; y: number; z: number };
  /** stated by the file itself */
  fileUnit: StatedUnit | null;
}

/** The one unit of a kit's files, and why; null where all state theirs. */
export interface KitUnit {
  unit: LengthUnit;
  reason: string;
}

const longest = ({ fileSize: { x, y, z } }: ReadPiece): number => Math.max(x, y, z);

/**
 * One unit for all files of a kit that state none: they were made together, so the largest decides for the small ones,
 * which by themselves would be taken for things in a larger unit. A unit that other files of the kit state is taken over.
 */
export function kitUnit(pieces: readonly ReadPiece[]): KitUnit | null {
  const silent = pieces.filter((p) => p.fileUnit === null);
  if (silent.length === 0) return null;
  const stated = [
    ...new Set(pieces.flatMap((p) => (p.fileUnit === null || p.fileUnit === 'micron' ? [] : [p.fileUnit]))),
  ];
  const largest = silent.reduce((a, b) => (longest(b) > longest(a) ? b : a));
  const guess = guessUnit(longest(largest));
  if (stated.length === 1 && stated[0] !== guess.unit) {
    const speaking = pieces.filter((p) => p.fileUnit === stated[0]);
    const ratio = Math.max(...speaking.map(longest)) / longest(largest);
    // numbers of one order of size are in one unit
    if (ratio > 1 / 20 && ratio < 20)
      return {
        unit: stated[0],
        reason: `${speaking[0].name} states ${stated[0]}, and the numbers of the others are alike`,
      };
  }
  return { unit: guess.unit, reason: `the largest of ${silent.length}, ${largest.name}, is ${guess.reason}` };
}
