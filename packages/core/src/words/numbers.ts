/** Numbers in words, as screen, command line and reports show them. */

const thin = '\u2009';

/** A number with a real minus and thin-space thousands. */
export function fixed(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  const [whole, rest] = text.split('.');
  const grouped = whole.length > 3 ? whole.replace(/\B(?=(\d{3})+$)/g, thin) : whole;
  const sign = value < 0 && Number(text) !== 0 ? '\u2212' : '';
  return sign + grouped + (rest ? `.${rest}` : '');
}

export const whole = (value: number): string => fixed(value, 0);

/** So many of a thing: 1 part, 2 parts. */
export const countOf = (n: number, thing: string): string => `${whole(n)} ${thing}${n === 1 ? '' : 's'}`;

/** Volume in cm³, or in mL of liquid resin, which is as much. */
export const volumeText = (mm3: number, liquid = false): string => {
  const ml = mm3 / 1000;
  return `${fixed(ml, ml >= 100 ? 0 : ml >= 1 ? 1 : 2)} ${liquid ? 'mL' : 'cm³'}`;
};

/** Area in cm². */
export const areaText = (mm2: number): string => `${fixed(mm2 / 100, mm2 >= 10_000 ? 0 : mm2 >= 100 ? 1 : 2)} cm²`;

export const massText = (g: number): string =>
  g >= 1000 ? `${fixed(g / 1000, 2)} kg` : `${fixed(g, g >= 10 ? 0 : 1)} g`;

export const secondsText = (s: number): string =>
  s < 60 ? `${fixed(s, s < 10 ? 1 : 0)} s` : s < 3600 ? `${fixed(s / 60, 0)} min` : `${fixed(s / 3600, 1)} h`;

/** Length with digits that fit its size, in mm or inches. */
export function lengthText(mm: number, unit: 'mm' | 'in', withUnit = true): string {
  const value = unit === 'in' ? mm / 25.4 : mm;
  const size = Math.abs(value);
  const digits = unit === 'in' ? (size >= 100 ? 1 : size >= 1 ? 2 : 3) : size >= 1000 ? 0 : size >= 10 ? 1 : 2;
  return fixed(value, digits) + (withUnit ? ` ${unit}` : '');
}

/** Three sides, such as 12 × 30 × 40 mm. */
export const sizeText = (size: { x: number; y: number; z: number }, length: (mm: number) => string): string =>
  [size.x, size.y, size.z].map((mm) => length(mm)).join(' × ');

/** How figures are said to whom it is said: lengths in the unit that was chosen. */
export interface Speaker {
  length: (mm: number) => string;
  /** material is a liquid */
  liquid?: boolean;
}

/** Says lengths in mm. */
export const inMm: Speaker = { length: (mm) => lengthText(mm, 'mm') };

/** Lengths without their tenths, and of a metre and more in metres, where room is short. */
export const lengthBrief = (mm: number, length: (mm: number) => string): string =>
  !length(mm).endsWith('mm') ? length(mm) : mm >= 1000 ? `${fixed(mm / 1000, 1)} m` : `${fixed(mm, 0)} mm`;
