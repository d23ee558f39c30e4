import { InvalidArgumentError } from 'commander';
import { parseFactor, parseLength } from '@jasmorphe/core/formats/quantity';
import type { Place, PlaceKind } from '@jasmorphe/core/trade/placeKinds';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import type { CleanPlace, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { printerKinds, type BedSettings, type NamedBed } from '@jasmorphe/core/params/checks';
import { axes, type Axis } from '@jasmorphe/core/mesh/axes';

const finite = (text: string, what: string): number => {
  // as figures are printed: a real minus, thin spaces in thousands
  const value = Number(text.replace(/\u2212/g, '-').replace(/\u2009/g, ''));
  if (text.trim() === '' || !Number.isFinite(value)) throw new InvalidArgumentError(`"${text}" is not ${what}.`);
  return value;
};

export const number = (text: string): number => finite(text, 'a number');

export const whole = (text: string): number => {
  const value = finite(text, 'a whole number');
  if (!Number.isInteger(value)) throw new InvalidArgumentError(`"${text}" is not a whole number.`);
  return value;
};

/** How many: from 1 up to some number. */
export const count =
  (most: number) =>
  (text: string): number => {
    const value = whole(text);
    if (value < 1 || value > most) throw new InvalidArgumentError(`"${text}" is not between 1 and ${most}.`);
    return value;
  };

/** `1,3,4` */
export const wholes = (text: string): number[] => text.split(',').map(whole);

/** So many numbers with commas between them. */
export const numbers =
  (count: number) =>
  (text: string): number[] => {
    const parts = text.split(',').map(number);
    if (parts.length !== count) throw new InvalidArgumentError(`"${text}" is not ${count} numbers.`);
    return parts;
  };

/** `x4`, `400%`, `+5%`, `1:6` or `0.25` */
export function factor(text: string): number {
  const value = parseFactor(text);
  if (value === null) throw new InvalidArgumentError(`"${text}" is not a factor such as 4, x4, 400%, +5% or 1:6.`);
  return value;
}

/** `42.5`, `1.75m` or `"15 1/2 in"`, in mm */
export function length(text: string): number {
  const value = parseLength(text);
  if (value === null) throw new InvalidArgumentError(`"${text}" is not a length such as 42.5, 1.75m or "15 1/2 in".`);
  return value;
}

/** `42=900`: a length on the model and what it is in truth; may be repeated */
export function readings(
  text: string,
  before: { measured: number; real: number }[] = [],
): { measured: number; real: number }[] {
  const parts = text.split('=');
  if (parts.length !== 2) throw new InvalidArgumentError(`"${text}" is not of the form 42=900.`);
  return [...before, { measured: length(parts[0]), real: length(parts[1]) }];
}

/** `220x220x250` */
export function bed(text: string): [number, number, number] {
  const parts = text
    .toLowerCase()
    .split(/[x×]/)
    .map((p) => finite(p, 'a bed such as 220x220x250'));
  if (parts.length !== 3 || parts.some((p) => p <= 0))
    throw new InvalidArgumentError(`"${text}" is not a bed such as 220x220x250.`);
  return parts as [number, number, number];
}

/** A bed, by name where several are given. */
export type BedValue = Omit<NamedBed, 'keepOuts'>;

/** `kind=resin`, `layer=0.4`, `nozzle=0.8` or `margin=5` of a bed */
function bedSetting(text: string): BedSettings & Pick<NamedBed, 'margin'> {
  const [key, value = '', ...more] = text.split('=').map((t) => t.trim());
  const kind = printerKinds.find((k) => k === value);
  if (more.length === 0 && key === 'kind' && kind) return { kind };
  if (more.length === 0 && (key === 'layer' || key === 'nozzle' || key === 'margin')) {
    const mm = finite(value, `a ${key} in mm`);
    if (mm > 0 || (mm === 0 && key === 'margin')) return { [key]: mm };
  }
  throw new InvalidArgumentError(`"${text}" is none of kind=filament, kind=resin, layer=0.4, nozzle=0.8 and margin=5.`);
}

/** `220x220x250`, or `long=300x300x400,nozzle=0.8`, which may be repeated */
export function beds(text: string, before: BedValue[] = []): BedValue[] {
  const [first, ...settings] = text.split(',');
  const at = first.indexOf('=');
  const name = at < 0 ? '' : first.slice(0, at).trim();
  if (at === 0 || (before.length > 0 && (name === '' || before.some((b) => b.name === '' || b.name === name))))
    throw new InvalidArgumentError('Several beds each want a name of their own, such as long=300x300x400.');
  const said = settings.map(bedSetting).reduce<Partial<NamedBed>>((all, one) => ({ ...all, ...one }), {});
  return [...before, { name, bed: bed(first.slice(at + 1)), ...said }];
}

/** `0,0,100:50,50,120`, two corners of a box, or `0,0,100:25`, a spot and its radius; may be repeated */
export function cleanPlaces(text: string, before: CleanPlace[] = []): CleanPlace[] {
  const [first, second, ...more] = text.split(':');
  if (second === undefined || more.length > 0)
    throw new InvalidArgumentError(
      `"${text}" is neither a box such as 0,0,100:50,50,120 nor a spot such as 0,0,100:25.`,
    );
  const a = direction(first);
  if (!second.includes(',')) {
    const radiusMm = finite(second, 'a radius in mm');
    if (radiusMm <= 0) throw new InvalidArgumentError(`"${second}" is not a radius above 0.`);
    return [...before, { at: a, radiusMm }];
  }
  const b = direction(second);
  return [
    ...before,
    {
      min: [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.min(a[2], b[2])],
      max: [Math.max(a[0], b[0]), Math.max(a[1], b[1]), Math.max(a[2], b[2])],
    },
  ];
}

/** `parts=1,seam=0.5`; what is left out counts for nothing */
export function wishes(text: string): Wishes {
  const out: Required<Wishes> = { parts: 0, seam: 0, support: 0, time: 0, symmetry: 0 };
  for (const part of text.split(',')) {
    const [name, value, ...more] = part.split('=');
    const key = name.trim() as keyof Wishes;
    if (!(key in out) || value === undefined || more.length > 0)
      throw new InvalidArgumentError(`"${part}" is not of the form seam=0.5, with ${Object.keys(out).join(', ')}.`);
    const share = finite(value, 'a share from 0 to 1');
    if (share < 0 || share > 1) throw new InvalidArgumentError(`"${value}" is not a share from 0 to 1.`);
    out[key] = share;
  }
  return out;
}

/** `0,0,1` */
export function direction(text: string): [number, number, number] {
  const parts = text.split(',').map((p) => finite(p, 'a direction such as 0,0,1'));
  if (parts.length !== 3) throw new InvalidArgumentError(`"${text}" is not a direction such as 0,0,1.`);
  return parts as [number, number, number];
}

/** `0,0,1`, given several times */
export const points = (text: string, before: [number, number, number][] = []): [number, number, number][] => [
  ...before,
  direction(text),
];

/** `x,y,z:r`: a point of the skin and how far around it */
export function spots(text: string, before: CleanSpot[] = []): CleanSpot[] {
  const [at, radius, ...more] = text.split(':');
  const radiusMm = radius === undefined ? NaN : length(radius);
  if (!(radiusMm > 0) || more.length > 0)
    throw new InvalidArgumentError(`"${text}" is not of the form x,y,z:r, such as 0,-20,35:12.`);
  return [...before, { at: direction(at), radiusMm }];
}

/** `z=900` */
export function axisValue(text: string): { axis: Axis; mm: number } {
  const [name, value, ...more] = text.split('=');
  const axis = name.trim().toLowerCase() as Axis;
  if (!axes.includes(axis) || value === undefined || more.length > 0)
    throw new InvalidArgumentError(`"${text}" is not of the form z=900.`);
  return { axis, mm: length(value) };
}

/** `z=100,z=200`, or given several times */
export const axisValues = (text: string, before: { axis: Axis; mm: number }[] = []): { axis: Axis; mm: number }[] => [
  ...before,
  ...text.split(',').map(axisValue),
];

/** `x=1,y=1,z=2`; an axis left out keeps its size */
export function stretch(text: string): [number, number, number] {
  const out: [number, number, number] = [1, 1, 1];
  for (const part of text.split(',')) {
    const [name, value, ...more] = part.split('=');
    const k = axes.indexOf(name.trim().toLowerCase() as Axis);
    if (k < 0 || value === undefined || more.length > 0)
      throw new InvalidArgumentError(`"${part}" is not of the form z=1.5.`);
    out[k] = factor(value);
  }
  return out;
}

/** `girth=572`, given several times */
export function measures(text: string, before: Record<string, number> = {}): Record<string, number> {
  const parts = text.split('=');
  if (parts.length !== 2 || parts[0].trim() === '')
    throw new InvalidArgumentError(`"${text}" is not of the form girth=572.`);
  return { ...before, [parts[0].trim()]: length(parts[1]) };
}

/** `1000x1400x700`, or `760x1980` for an opening; `-` sets no limit. May be given several times. */
export const placeOf =
  (kind: PlaceKind) =>
  (text: string, before: Place[] = []): Place[] => {
    const sizes = text
      .toLowerCase()
      .split(/[x×]/)
      .map((p) => (p.trim() === '-' ? null : finite(p, 'a size such as 1000x1400x700')));
    if (sizes.length !== (kind === 'pass' ? 2 : 3))
      throw new InvalidArgumentError(
        `"${text}" is not ${kind === 'pass' ? 'an opening such as 760x1980' : 'a size such as 1000x1400x700'}.`,
      );
    const [widthMm, second, third] = sizes;
    const place = kind === 'pass' ? { depthMm: null, heightMm: second } : { depthMm: second, heightMm: third };
    return [...before, { name: `${kind} ${text}`, kind, widthMm, ...place }];
  };
