import { placeKinds } from '../planning/places.ts';
import { ValidateBy, type ValidationOptions } from 'class-validator';

const by = (
  name: string,
  test: (value: unknown) => boolean,
  says: string,
  options?: ValidationOptions,
): PropertyDecorator =>
  ValidateBy(
    { name, validator: { validate: test, defaultMessage: (args) => `${args?.property} must be ${says}` } },
    options,
  );

const finite = (x: unknown): x is number => typeof x === 'number' && Number.isFinite(x);
const triple = (v: unknown): v is number[] => Array.isArray(v) && v.length === 3 && v.every(finite);

/** Checks for the shapes that params share. */
export const IsDirection = (options?: ValidationOptions) =>
  by('isDirection', (v) => triple(v) && Math.hypot(...v) > 0, 'three numbers, not all zero', options);

export const IsPositiveTriple = (options?: ValidationOptions) =>
  by('isPositiveTriple', (v) => triple(v) && v.every((x) => x > 0), 'three numbers above zero', options);

export const IsLengthMm = (options?: ValidationOptions) =>
  by('isLengthMm', (v) => finite(v) && v > 0 && v <= 1e6, 'a length above 0 and up to 1 000 000 mm', options);

export const IsMm = (options?: ValidationOptions) =>
  by('isMm', (v) => finite(v) && v >= 0 && v <= 1e6, 'a length from 0 to 1 000 000 mm', options);

export const IsFactor = (options?: ValidationOptions) =>
  by('isFactor', (v) => finite(v) && v >= 1e-4 && v <= 1e5, 'a factor from 0.0001 to 100 000', options);

export const IsFactorTriple = (options?: ValidationOptions) =>
  by(
    'isFactorTriple',
    (v) => triple(v) && v.every((x) => x >= 1e-4 && x <= 1e5),
    'three factors from 0.0001 to 100 000',
    options,
  );

export const IsTriple = (options?: ValidationOptions) => by('isTriple', triple, 'three numbers', options);

export const IsPercentBelow = (limit: number, options?: ValidationOptions) =>
  by('isPercentBelow', (v) => finite(v) && v >= 0 && v < limit, `a share from 0 to below ${limit} percent`, options);

const isReading = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { measured, real, ...more } = v as { measured?: unknown; real?: unknown };
  const length = (x: unknown) => finite(x) && x > 0 && x <= 1e6;
  return length(measured) && length(real) && Object.keys(more).length === 0;
};

/** Lengths on the model with their true lengths. */
export const IsReadings = (options?: ValidationOptions) =>
  by(
    'isReadings',
    (v) => Array.isArray(v) && v.length > 0 && v.length <= 50 && v.every(isReading),
    'one to fifty readings, each with a measured and a real length above 0 mm',
    options,
  );

export const IsTriples = (least: number, most: number, options?: ValidationOptions) =>
  by(
    'isTriples',
    (v) => Array.isArray(v) && v.length >= least && v.length <= most && v.every(triple),
    `${least} to ${most} points of three numbers`,
    options,
  );

export const IsChoice = (choices: readonly string[], options?: ValidationOptions) =>
  by('isChoice', (v) => typeof v === 'string' && choices.includes(v), `one of ${choices.join(', ')}`, options);

const isPlace = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { name, kind, widthMm, depthMm, heightMm, ...more } = v as Record<string, unknown>;
  const sizes = [widthMm, depthMm, heightMm];
  return (
    typeof name === 'string' &&
    name.length > 0 &&
    name.length <= 80 &&
    (placeKinds as readonly unknown[]).includes(kind) &&
    sizes.every((x) => x === null || (finite(x) && x > 0 && x <= 1e6)) &&
    sizes.some((x) => x !== null) &&
    Object.keys(more).length === 0
  );
};

export const IsPlaces = (options?: ValidationOptions) =>
  by(
    'isPlaces',
    (v) => Array.isArray(v) && v.length > 0 && v.length <= 40 && v.every(isPlace),
    'one to forty places, each with a name, a kind and at least one size above 0 mm',
    options,
  );
