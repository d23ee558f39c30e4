import { InvalidArgumentError } from 'commander';
import { axes, type Axis } from '@jasmorphe/core/operations/size/size';

const finite = (text: string, what: string): number => {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value)) throw new InvalidArgumentError(`"${text}" is not ${what}.`);
  return value;
};

export const number = (text: string): number => finite(text, 'a number');

export const whole = (text: string): number => {
  const value = finite(text, 'a whole number');
  if (!Number.isInteger(value)) throw new InvalidArgumentError(`"${text}" is not a whole number.`);
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

/** `0,0,1` */
export function direction(text: string): [number, number, number] {
  const parts = text.split(',').map((p) => finite(p, 'a direction such as 0,0,1'));
  if (parts.length !== 3) throw new InvalidArgumentError(`"${text}" is not a direction such as 0,0,1.`);
  return parts as [number, number, number];
}

/** `z=900` */
export function axisValue(text: string): { axis: Axis; mm: number } {
  const [name, value, ...more] = text.split('=');
  const axis = name.trim().toLowerCase() as Axis;
  if (!axes.includes(axis) || value === undefined || more.length > 0)
    throw new InvalidArgumentError(`"${text}" is not of the form z=900.`);
  return { axis, mm: finite(value, 'a length in mm') };
}

/** `z=100,z=200`, or given several times */
export const axisValues = (text: string, before: { axis: Axis; mm: number }[] = []): { axis: Axis; mm: number }[] => [
  ...before,
  ...text.split(',').map(axisValue),
];

/** `x=1,y=1,z=2`; an axis left out keeps its size */
export function stretch(text: string): [number, number, number] {
  const out: [number, number, number] = [1, 1, 1];
  for (const { axis, mm } of text.split(',').map(axisValue)) out[axes.indexOf(axis)] = mm;
  return out;
}
