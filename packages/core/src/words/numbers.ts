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

/** Units that lengths are shown in, and areas and volumes with them. */
export type ShownUnit = 'mm' | 'in';

const inchMm = 25.4;

/** Three digits or so of what is not a length. */
const threeDigits = (value: number): string => fixed(value, value >= 100 ? 0 : value >= 1 ? 1 : 2);

/** Volume in cm³ or in³; in mL of liquid resin, which is what bottles say everywhere. */
export const volumeText = (mm3: number, liquid = false, unit: ShownUnit = 'mm'): string =>
  unit === 'in' && !liquid
    ? `${threeDigits(mm3 / inchMm ** 3)} in³`
    : `${threeDigits(mm3 / 1000)} ${liquid ? 'mL' : 'cm³'}`;

/** Area in cm² or in². */
export const areaText = (mm2: number, unit: ShownUnit = 'mm'): string =>
  unit === 'in' ? `${threeDigits(mm2 / inchMm ** 2)} in²` : `${threeDigits(mm2 / 100)} cm²`;

/** A length that is a part of a layer or a nozzle: to a thousandth of a millimetre, or a ten-thousandth of an inch. */
const fineText = (mm: number, unit: ShownUnit = 'mm', digits = 3): string =>
  unit === 'in' ? `${fixed(mm / inchMm, digits + 1)} in` : `${fixed(mm, digits)} mm`;

export const massText = (g: number): string =>
  g >= 1000 ? `${fixed(g / 1000, 2)} kg` : `${fixed(g, g >= 10 ? 0 : 1)} g`;

export const secondsText = (s: number): string =>
  s < 60 ? `${fixed(s, s < 10 ? 1 : 0)} s` : s < 3600 ? `${fixed(s / 60, 0)} min` : `${fixed(s / 3600, 1)} h`;

/** Length with digits that fit its size, in mm or inches. */
export function lengthText(mm: number, unit: ShownUnit, withUnit = true): string {
  const value = unit === 'in' ? mm / inchMm : mm;
  const size = Math.abs(value);
  const digits = unit === 'in' ? (size >= 100 ? 1 : size >= 1 ? 2 : 3) : size >= 1000 ? 0 : size >= 10 ? 1 : 2;
  return fixed(value, digits) + (withUnit ? ` ${unit}` : '');
}

/** Three sides, such as 12 × 30 × 40 mm. */
export const sizeText = (size: { x: number; y: number; z: number }, length: (mm: number) => string): string =>
  [size.x, size.y, size.z].map((mm) => length(mm)).join(' × ');

/** How figures are said to whom it is said: in the unit that was chosen. */
export interface Speaker {
  length: (mm: number) => string;
  area: (mm2: number) => string;
  volume: (mm3: number, liquid?: boolean) => string;
  /** layers, nozzles and what is as small */
  fine: (mm: number, digits?: number) => string;
  /** material is a liquid */
  liquid?: boolean;
}

const speakerIn = (unit: ShownUnit): Speaker => ({
  length: (mm) => lengthText(mm, unit),
  area: (mm2) => areaText(mm2, unit),
  volume: (mm3, liquid) => volumeText(mm3, liquid, unit),
  fine: (mm, digits) => fineText(mm, unit, digits),
});

/** How figures are said in each unit. */
export const speakers: Record<ShownUnit, Speaker> = { mm: speakerIn('mm'), in: speakerIn('in') };

/** Says figures in mm, cm² and cm³. */
export const inMm = speakers.mm;

/** A text that was written in mm, such as what a printer is set to, as it is said. */
export const saidAgain = (text: string, { fine }: Speaker): string =>
  text.replace(/(\d+(?:\.(\d+))?) mm\b/g, (_, mm: string, digits: string | undefined) =>
    fine(Number(mm), digits?.length ?? 0),
  );

/** A figure without tenths from ten on, where room is short. */
const twoDigits = (text: string): string =>
  text.replace(/^([\u2212+]?)(\d\d+)\.\d+ /, (_, sign: string, digits: string) => `${sign}${digits} `);

export const areaBrief = (mm2: number, { area }: Speaker): string => twoDigits(area(mm2));

/** The same of volumes; in litres from one on. */
export const volumeBrief = (mm3: number, { volume }: Speaker): string => {
  const text = volume(mm3);
  return mm3 >= 1e6 && text.endsWith('cm³') ? `${fixed(mm3 / 1e6, 1)} L` : twoDigits(text);
};

/** Lengths without their tenths, and of a metre and more in metres, where room is short. */
export const lengthBrief = (mm: number, length: (mm: number) => string): string =>
  !length(mm).endsWith('mm') ? length(mm) : mm >= 1000 ? `${fixed(mm / 1000, 1)} m` : `${fixed(mm, 0)} mm`;
