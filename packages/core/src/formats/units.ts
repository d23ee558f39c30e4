/** Millimetres in one of each unit. The inch is exact by international agreement of 1959 (NIST SP 811, B.8). */
export const mmPerUnit = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 } as const;

export type LengthUnit = keyof typeof mmPerUnit;
export const lengthUnits = Object.keys(mmPerUnit) as LengthUnit[];

/** Units that a file may state by itself: those, and one that nobody types. */
export type StatedUnit = LengthUnit | 'micron';
export const mmPerStatedUnit: Readonly<Record<StatedUnit, number>> = { ...mmPerUnit, micron: 0.001 };

/**
 * A guess at the unit of a file that carries none, from its largest dimension alone. Figures are common practice:
 * files of printable things are nearly always between 5 mm and 3 m across.
 */
export function guessUnit(largest: number): { unit: LengthUnit; reason: string } {
  const said = `${Number(largest.toPrecision(4))} across`;
  if (largest < 0.05) return { unit: 'm', reason: `${said}: in any smaller unit it would be too small to print` };
  if (largest < 3)
    return { unit: 'm', reason: `${said}: as metres it is a figure or a prop, as millimetres it could not be printed` };
  if (largest < 15)
    return { unit: 'in', reason: `${said}: as inches it is a hand-sized to head-sized thing, as millimetres a crumb` };
  return { unit: 'mm', reason: `${said}: millimetres are usual for printable files` };
}
