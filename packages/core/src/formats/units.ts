/** Millimetres in one of each unit. The inch is exact by international agreement of 1959 (NIST SP 811, B.8). */
export const mmPerUnit = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 } as const;

export type LengthUnit = keyof typeof mmPerUnit;
export const lengthUnits = Object.keys(mmPerUnit) as LengthUnit[];

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

/**
 * Reads a length as a maker types it: `42.5`, `1.75 m`, `15 1/2 in`, `15"`, `5 ft 3 in`.
 *
 * @param fallback unit of a bare number
 * @returns mm, or null when it is no length
 */
export function parseLength(text: string, fallback: LengthUnit = 'mm'): number | null {
  let rest = text
    .trim()
    .toLowerCase()
    .replace(/[\u2009\u202f\u00a0]/g, ' ')
    .replace('\u2212', '-')
    .replace(/,(\d{1,2}\b)/, '.$1');
  if (rest === '') return null;
  let total = 0;
  let found = false;
  const part = /^([+-]?\d*\.?\d+(?:e[+-]?\d+)?)(?:\s+(\d+)\/(\d+)|\/(\d+))?\s*(mm|cm|m|in|ft|"|')?\s*/;
  while (rest !== '') {
    const match = part.exec(rest);
    if (!match) return null;
    let value = Number(match[1]);
    if (match[2]) value += Number(match[2]) / Number(match[3]);
    if (match[4]) value /= Number(match[4]);
    const unit = match[5] === '"' ? 'in' : match[5] === "'" ? 'ft' : ((match[5] as LengthUnit | undefined) ?? fallback);
    if (found && !match[5]) return null;
    total += value * mmPerUnit[unit];
    found = true;
    rest = rest.slice(match[0].length);
  }
  return Number.isFinite(total) ? total : null;
}

/** Reads a factor: `x4`, `400%`, `+5%`, `1:6`, `0.5`. Returns null when it is none. */
export function parseFactor(text: string): number | null {
  const t = text.trim().replace('\u00d7', 'x').replace('\u2212', '-');
  let match = /^x?\s*(\d*\.?\d+(?:e[+-]?\d+)?)$/i.exec(t);
  if (match) return Number(match[1]);
  match = /^([+-])\s*(\d*\.?\d+)\s*%$/.exec(t);
  if (match) return 1 + (match[1] === '-' ? -1 : 1) * (Number(match[2]) / 100);
  match = /^(\d*\.?\d+)\s*%$/.exec(t);
  if (match) return Number(match[1]) / 100;
  match = /^(\d*\.?\d+)\s*:\s*(\d*\.?\d+)$/.exec(t);
  if (match && Number(match[2]) > 0) return Number(match[1]) / Number(match[2]);
  return null;
}
