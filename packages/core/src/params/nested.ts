import type { ValidationOptions } from 'class-validator';
import { isMeshError } from '../run/MeshError.ts';
import { by } from './checks.ts';
import { parseParams } from './parseParams.ts';

/** What is wrong with a value of a class, as what goes on a sentence; empty where nothing is. */
export function troubleIn(Class: new () => object, value: unknown): string {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return 'it is no object';
  try {
    parseParams(Class, value);
    return '';
  } catch (error) {
    if (isMeshError(error)) return error.message.replace(/\.$/, '').replace(/^./, (c) => c.toLowerCase());
    throw error;
  }
}

const described = (Class: new () => object) => ({
  type: 'object',
  description: `the fields of a ${Class.name}; those left out are usual`,
});

/** An object of a class of its own. */
export const IsPartOf = (Class: new () => object, options?: ValidationOptions) =>
  by(
    'isPartOf',
    (v) => troubleIn(Class, v) === '',
    (v) => `right: ${troubleIn(Class, v)}`,
    described(Class),
    options,
  );

/** A list of objects of a class, each checked by itself; the first that is wrong is named by its number. */
export const AreEach = (Class: new () => object, least: number, most: number, options?: ValidationOptions) =>
  by(
    'areEach',
    (v) => Array.isArray(v) && v.length >= least && v.length <= most && v.every((one) => troubleIn(Class, one) === ''),
    (v) => {
      const wrong = Array.isArray(v) ? v.findIndex((one) => troubleIn(Class, one) !== '') : -1;
      const size = `a list of ${least > 0 ? `${least} to ${most}` : `up to ${most}`}`;
      return wrong >= 0 && (v as unknown[]).length <= most
        ? `right: in number ${wrong + 1}, ${troubleIn(Class, (v as unknown[])[wrong])}`
        : size;
    },
    { type: 'array', items: described(Class), minItems: least, maxItems: most },
    options,
  );
