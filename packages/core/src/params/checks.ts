import { ValidateBy, type ValidationOptions } from 'class-validator';
import { placedKinds, type JoinKind } from '../trade/joinKinds.ts';
import { wishesNeeded, wishNames } from './Wishes.ts';
import { placeKinds } from '../trade/placeKinds.ts';

/** JSON Schema of a value, as the API description shows it. */
export type Schema = Readonly<Record<string, unknown>>;

/** Names of the checks below. Each carries the schema of what it lets pass as its first constraint. */
export const checkNames = new Set<string>();

/** A check with the schema of what it lets pass. @param says what the value must be; it may depend on what is wrong with it */
export const by = (
  name: string,
  test: (value: unknown) => boolean,
  says: string | ((value: unknown) => string),
  schema: Schema,
  options?: ValidationOptions,
): PropertyDecorator => {
  checkNames.add(name);
  return ValidateBy(
    {
      name,
      constraints: [schema],
      validator: {
        validate: test,
        defaultMessage: (args) =>
          `${args?.property} must be ${typeof says === 'string' ? says : says(args?.value as unknown)}`,
      },
    },
    options,
  );
};

export const finite = (x: unknown): x is number => typeof x === 'number' && Number.isFinite(x);
export const triple = (v: unknown): v is number[] => Array.isArray(v) && v.length === 3 && v.every(finite);
export const tripleOf = (items: Schema): Schema => ({ type: 'array', items, minItems: 3, maxItems: 3 });

export const mostMm = 1e6;
const positive: Schema = { type: 'number', exclusiveMinimum: 0 };
const lengthMm: Schema = { ...positive, maximum: mostMm };
export const mm: Schema = { type: 'number', minimum: 0, maximum: mostMm };
export const isMm = (v: unknown): v is number => finite(v) && v >= 0 && v <= mostMm;
const isLength = (v: unknown): v is number => finite(v) && v > 0 && v <= mostMm;
const factor: Schema = { type: 'number', minimum: 1e-4, maximum: 1e5 };
export const isFactor = (v: unknown): v is number => finite(v) && v >= 1e-4 && v <= 1e5;
export const fields = (properties: Record<string, Schema>, required: string[]): Schema => ({
  type: 'object',
  properties,
  required,
  additionalProperties: false,
});

export const isRotation = (v: unknown): boolean =>
  Array.isArray(v) &&
  v.length === 3 &&
  v.every(triple) &&
  v.every((a, i) => v.every((b, k) => Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] - (i === k ? 1 : 0)) < 1e-6));

/** Checks for the shapes that params share. */
export const IsDirection = (options?: ValidationOptions) =>
  by(
    'isDirection',
    (v) => triple(v) && Math.hypot(...v) > 0,
    'three numbers, not all zero',
    tripleOf({ type: 'number' }),
    options,
  );

export const IsRotation = (options?: ValidationOptions) =>
  by('isRotation', isRotation, 'the three rows of a rotation', tripleOf(tripleOf({ type: 'number' })), options);

export const IsPositiveTriple = (options?: ValidationOptions) =>
  by(
    'isPositiveTriple',
    (v) => triple(v) && v.every((x) => x > 0),
    'three numbers above zero',
    tripleOf(positive),
    options,
  );

export const IsLengthMm = (options?: ValidationOptions) =>
  by('isLengthMm', isLength, 'a length above 0 and up to 1 000 000 mm', lengthMm, options);

export const IsMm = (options?: ValidationOptions) => by('isMm', isMm, 'a length from 0 to 1 000 000 mm', mm, options);

export const IsFactor = (options?: ValidationOptions) =>
  by('isFactor', isFactor, 'a factor from 0.0001 to 100 000', factor, options);

export const IsFactorTriple = (options?: ValidationOptions) =>
  by(
    'isFactorTriple',
    (v) => triple(v) && v.every(isFactor),
    'three factors from 0.0001 to 100 000',
    tripleOf(factor),
    options,
  );

export const IsTriple = (options?: ValidationOptions) =>
  by('isTriple', triple, 'three numbers', tripleOf({ type: 'number' }), options);

export const IsPercentBelow = (limit: number, options?: ValidationOptions) =>
  by(
    'isPercentBelow',
    (v) => finite(v) && v >= 0 && v < limit,
    `a share from 0 to below ${limit} percent`,
    { type: 'number', minimum: 0, exclusiveMaximum: limit },
    options,
  );

/** A list of lengths, 0 among them. */
export const IsLengths = (most: number, options?: ValidationOptions) =>
  by(
    'isLengths',
    (v) => Array.isArray(v) && v.length <= most && v.every(isMm),
    `up to ${most} lengths from 0 to 1 000 000 mm`,
    { type: 'array', items: mm, maxItems: most },
    options,
  );

const isReading = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { measured, real, ...more } = v as { measured?: unknown; real?: unknown };
  return isLength(measured) && isLength(real) && Object.keys(more).length === 0;
};

/** Lengths on the model with their true lengths. */
export const IsReadings = (options?: ValidationOptions) =>
  by(
    'isReadings',
    (v) => Array.isArray(v) && v.length > 0 && v.length <= 50 && v.every(isReading),
    'one to fifty readings, each with a measured and a real length above 0 mm',
    {
      type: 'array',
      items: fields({ measured: lengthMm, real: lengthMm }, ['measured', 'real']),
      minItems: 1,
      maxItems: 50,
    },
    options,
  );

export const IsTriples = (least: number, most: number, options?: ValidationOptions) =>
  by(
    'isTriples',
    (v) => Array.isArray(v) && v.length >= least && v.length <= most && v.every(triple),
    `${least} to ${most} points of three numbers`,
    { type: 'array', items: tripleOf({ type: 'number' }), minItems: least, maxItems: most },
    options,
  );

export const IsChoice = (choices: readonly string[], options?: ValidationOptions) =>
  by(
    'isChoice',
    (v) => typeof v === 'string' && choices.includes(v),
    `one of ${choices.join(', ')}`,
    { type: 'string', enum: choices },
    options,
  );

const hash = /^[0-9a-f]{64}$/;

/** The name of a mesh that is kept already. */
export const IsMeshHash = (options?: ValidationOptions) =>
  by(
    'isMeshHash',
    (v) => typeof v === 'string' && hash.test(v),
    `${options?.each ? 'hashes of meshes' : 'the hash of a mesh'}, 64 hexadecimal digits`,
    { type: 'string', pattern: hash.source },
    options,
  );

const isPlace = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { name, kind, widthMm, depthMm, heightMm, ...more } = v as Record<string, unknown>;
  const sizes = [widthMm, depthMm, heightMm];
  return (
    typeof name === 'string' &&
    name.length > 0 &&
    name.length <= 80 &&
    (placeKinds as readonly unknown[]).includes(kind) &&
    sizes.every((x) => x === null || isLength(x)) &&
    sizes.some((x) => x !== null) &&
    Object.keys(more).length === 0
  );
};

const sizeOrNone: Schema = { type: ['number', 'null'], exclusiveMinimum: 0, maximum: mostMm };

export const IsPlaces = (options?: ValidationOptions) =>
  by(
    'isPlaces',
    (v) => Array.isArray(v) && v.length > 0 && v.length <= 40 && v.every(isPlace),
    'one to forty places, each with a name, a kind and at least one size above 0 mm',
    {
      type: 'array',
      items: fields(
        {
          name: { type: 'string', minLength: 1, maxLength: 80 },
          kind: { type: 'string', enum: placeKinds },
          widthMm: sizeOrNone,
          depthMm: sizeOrNone,
          heightMm: sizeOrNone,
        },
        ['name', 'kind', 'widthMm', 'depthMm', 'heightMm'],
      ),
      minItems: 1,
      maxItems: 40,
    },
    options,
  );

const isUnitless = (v: unknown): v is number => finite(v) && Math.abs(v) <= mostMm;
const point: Schema = tripleOf({ type: 'number', minimum: -mostMm, maximum: mostMm });
const isPoint = (v: unknown): boolean => Array.isArray(v) && v.length === 3 && v.every(isUnitless);

const isBox = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { min, max, ...more } = v as Record<string, unknown>;
  return (
    isPoint(min) &&
    isPoint(max) &&
    (min as number[]).every((x, k) => x < (max as number[])[k]) &&
    Object.keys(more).length === 0
  );
};
const box: Schema = fields({ min: point, max: point }, ['min', 'max']);

const isPlaneCut = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { normal, offset, through, within, loop, ...more } = v as Record<string, unknown>;
  return (
    triple(normal) &&
    Math.abs(Math.hypot(...normal) - 1) < 1e-6 &&
    isUnitless(offset) &&
    (through === undefined || isPoint(through)) &&
    (within === undefined || isBox(within)) &&
    (loop === undefined || (Array.isArray(loop) && loop.length >= 3 && loop.length <= 2000 && loop.every(isPoint))) &&
    Object.keys(more).length === 0
  );
};

/** Flat cuts: see `PlaneCut`. */
export const IsPlaneCuts = (most: number, options?: ValidationOptions) =>
  by(
    'isPlaneCuts',
    (v) => Array.isArray(v) && v.length > 0 && v.length <= most && v.every(isPlaneCut),
    `one to ${most} cuts, each with a normal of length 1, an offset in mm, for one part alone a point of its section, for a cut that ends the box in which it does, and for one along a closed line its points`,
    {
      type: 'array',
      items: fields(
        {
          normal: tripleOf({ type: 'number' }),
          offset: { type: 'number' },
          through: point,
          within: box,
          loop: { type: 'array', items: point, minItems: 3, maxItems: 2000 },
        },
        ['normal', 'offset'],
      ),
      minItems: 1,
      maxItems: most,
    },
    options,
  );

/** A join placed by hand: on the face that two parts share there. Kind `none` keeps joins off that face. */
export interface JoinPlace {
  at: [number, number, number];
  kind?: JoinKind;
  /** across, mm; the largest that goes there if left out */
  mm?: number;
}

const isJoinPlace = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { at, kind, mm, ...more } = v as Record<string, unknown>;
  return (
    isPoint(at) &&
    (kind === undefined || placedKinds.includes(kind as never)) &&
    (mm === undefined || (finite(mm) && mm >= 2 && mm <= 12)) &&
    Object.keys(more).length === 0
  );
};

export const IsJoinPlaces = (most: number, options?: ValidationOptions) =>
  by(
    'isJoinPlaces',
    (v) => Array.isArray(v) && v.length <= most && v.every(isJoinPlace),
    `up to ${most} joins, each with its place in mm and, if wanted, its kind (${placedKinds.join(', ')}) and 2 to 12 mm across`,
    {
      type: 'array',
      items: fields(
        { at: point, kind: { type: 'string', enum: placedKinds }, mm: { type: 'number', minimum: 2, maximum: 12 } },
        ['at'],
      ),
      maxItems: most,
    },
    options,
  );

/** A part of an earlier division, by its box and volume before joins were made: if it comes out again it keeps its name. */
export interface PartName {
  tag: string;
  min: [number, number, number];
  size: [number, number, number];
  volumeMm3: number;
  /** was printed: no other part may get the name */
  spent?: boolean;
}

const isPartName = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { tag, min, size, volumeMm3, spent, ...more } = v as Record<string, unknown>;
  return (
    typeof tag === 'string' &&
    /^[A-Z]{1,3}[0-9]{1,4}$/.test(tag) &&
    isPoint(min) &&
    isPoint(size) &&
    finite(volumeMm3) &&
    (spent === undefined || typeof spent === 'boolean') &&
    Object.keys(more).length === 0
  );
};

export const IsPartNames = (most: number, options?: ValidationOptions) =>
  by(
    'isPartNames',
    (v) => Array.isArray(v) && v.length <= most && v.every(isPartName),
    `up to ${most} names such as B2, each with the box and the volume of its part`,
    {
      type: 'array',
      items: fields(
        {
          tag: { type: 'string', pattern: '^[A-Z]{1,3}[0-9]{1,4}$' },
          min: point,
          size: point,
          volumeMm3: { type: 'number' },
          spent: { type: 'boolean' },
        },
        ['tag', 'min', 'size', 'volumeMm3'],
      ),
      maxItems: most,
    },
    options,
  );

/** Boxes in the model's own place, mm. */
export const IsBoxes = (most: number, options?: ValidationOptions) =>
  by(
    'isBoxes',
    (v) => Array.isArray(v) && v.length <= most && v.every(isBox),
    `up to ${most} boxes, each with its lower and its upper corner in mm`,
    { type: 'array', items: box, maxItems: most },
    options,
  );

const isSpot = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { at, radiusMm, ...more } = v as Record<string, unknown>;
  return isPoint(at) && finite(radiusMm) && radiusMm > 0 && radiusMm <= mostMm && Object.keys(more).length === 0;
};

/** Spots of the skin, each a ball around a point of it, mm. */
export const IsSpots = (most: number, options?: ValidationOptions) =>
  by(
    'isSpots',
    (v) => Array.isArray(v) && v.length <= most && v.every(isSpot),
    `up to ${most} spots, each with its place and its radius in mm`,
    {
      type: 'array',
      items: fields({ at: point, radiusMm: { type: 'number', exclusiveMinimum: 0 } }, ['at', 'radiusMm']),
      maxItems: most,
    },
    options,
  );

/** A place on a bed where nothing may stand, corners x, y in mm. */
export interface KeepOut {
  min: [number, number];
  max: [number, number];
}

const pair = (v: unknown): v is [number, number] =>
  Array.isArray(v) && v.length === 2 && v.every((x) => finite(x) && Math.abs(x) <= mostMm);
const corner: Schema = { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 };

const areKeepOuts = (v: unknown): boolean =>
  Array.isArray(v) &&
  v.length <= 20 &&
  v.every(
    (k: Partial<KeepOut> | null) =>
      typeof k === 'object' && k !== null && pair(k.min) && pair(k.max) && k.min[0] < k.max[0] && k.min[1] < k.max[1],
  );
const keepOuts: Schema = { type: 'array', items: fields({ min: corner, max: corner }, ['min', 'max']), maxItems: 20 };

export const IsKeepOuts = (options?: ValidationOptions) =>
  by(
    'isKeepOuts',
    areKeepOuts,
    'up to twenty places, each with its lower and its upper corner, x and y in mm',
    keepOuts,
    options,
  );

/** The step of a fit gauge that went in, of one material on a printer. */
export interface FitReading {
  material: string;
  mm: number;
}

const areFits = (v: unknown): boolean =>
  Array.isArray(v) &&
  v.length <= 40 &&
  v.every(
    (f: Partial<FitReading> | null) =>
      typeof f === 'object' &&
      f !== null &&
      typeof f.material === 'string' &&
      f.material.length > 0 &&
      f.material.length <= 80 &&
      finite(f.mm) &&
      f.mm >= 0 &&
      f.mm <= 5,
  );

export const IsFits = (options?: ValidationOptions) =>
  by(
    'isFits',
    areFits,
    'up to forty materials, each with the step of the fit gauge that went in, 0 to 5 mm',
    {
      type: 'array',
      items: fields(
        {
          material: { type: 'string', minLength: 1, maxLength: 80 },
          mm: { type: 'number', minimum: 0, maximum: 5 },
        },
        ['material', 'mm'],
      ),
      maxItems: 40,
    },
    options,
  );

const areWishes = (v: unknown): boolean =>
  typeof v === 'object' &&
  v !== null &&
  Object.keys(v).every((n) => (wishNames as readonly string[]).includes(n)) &&
  wishesNeeded.every((n) => n in v) &&
  Object.values(v).every((share) => finite(share) && share >= 0 && share <= 1);

/** What a maker weighs a plan by: see `Wishes`. */
export const IsWishes = (options?: ValidationOptions) =>
  by(
    'isWishes',
    areWishes,
    `${wishNames.join(', ')}, each from 0 to 1`,
    fields(Object.fromEntries(wishNames.map((n) => [n, { type: 'number', minimum: 0, maximum: 1 }])), [
      ...wishesNeeded,
    ]),
    options,
  );

/** What lays the layers: a nozzle, or light in a vat. */
export const printerKinds = ['filament', 'resin'] as const;
export type PrinterKind = (typeof printerKinds)[number];

/** What prints on a bed, where it is not what prints on the others. */
export interface BedSettings {
  kind?: PrinterKind;
  /** height of a layer, mm */
  layer?: number;
  /** bore of the nozzle, mm */
  nozzle?: number;
}

/** A bed by its name. */
export interface NamedBed extends BedSettings {
  name: string;
  /** x, y, z, mm */
  bed: [number, number, number];
  keepOuts?: KeepOut[];
  /** kept free at each side and on top, where it is not what is kept free on the others, mm */
  margin?: number;
}

const isNamedBed = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { name, bed, keepOuts: places, margin, kind, layer, nozzle, ...more } = v as Record<string, unknown>;
  return (
    (kind === undefined || (printerKinds as readonly unknown[]).includes(kind)) &&
    (margin === undefined || isMm(margin)) &&
    (layer === undefined || isLength(layer)) &&
    (nozzle === undefined || isLength(nozzle)) &&
    typeof name === 'string' &&
    name.length > 0 &&
    name.length <= 80 &&
    triple(bed) &&
    bed.every(isLength) &&
    (places === undefined || areKeepOuts(places)) &&
    Object.keys(more).length === 0
  );
};

export const IsBeds = (options?: ValidationOptions) =>
  by(
    'isBeds',
    (v) => Array.isArray(v) && v.length > 0 && v.length <= 20 && v.every(isNamedBed),
    'one to twenty beds, each with a name and its room x, y, z in mm; margin, kind, layer and nozzle where they differ',
    {
      type: 'array',
      items: fields(
        {
          name: { type: 'string', minLength: 1, maxLength: 80 },
          bed: tripleOf(lengthMm),
          keepOuts,
          margin: mm,
          kind: { type: 'string', enum: [...printerKinds] },
          layer: lengthMm,
          nozzle: lengthMm,
        },
        ['name', 'bed'],
      ),
      minItems: 1,
      maxItems: 20,
    },
    options,
  );
