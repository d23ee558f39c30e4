import type { ValidationOptions } from 'class-validator';
import { by, fields, finite, isMm, isRotation, mm, tripleOf } from '../../params/checks.ts';
import { troubleIn } from '../../params/nested.ts';
import { mostHoldMm, PrinterProfile } from '../PrinterProfile.ts';
import type { LaidFor } from './onPrinter.ts';

/** A part as it lies, by its mesh, with what printing it takes. */
export interface LaidPart {
  tag: string;
  /** hash of its mesh */
  mesh: string;
  /** rows of the rotation in which it lies */
  rotation: number[][];
  heightMm: number;
  durationS: number;
  materialG: number;
  /** what its printer is set to, in words: parts of other settings go on other beds */
  settings?: string;
  /** how far its brim or raft reaches beyond it, mm */
  holdMm?: number;
  /** hours on other printers go by it; without it they are the same on all */
  laidFor?: LaidFor;
  /** whose it is, where parts of several models are put on beds: ids of the model and the part, and the part's own tag */
  of?: { model: string; part: string; tag: string };
}

const isWord = (v: unknown, most: number): v is string => typeof v === 'string' && v.length > 0 && v.length <= most;

/** Does it say whose a part is? */
export const isOwner = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { model, part, tag, ...more } = v as Record<string, unknown>;
  return isWord(model, 100) && isWord(part, 100) && isWord(tag, 40) && Object.keys(more).length === 0;
};

/** All parts of a list are laid for few printers: each of those is looked at once. */
const known = new Map<string, boolean>();
const mostKnown = 200;

function isPrinter(v: unknown): boolean {
  const key = JSON.stringify(v) ?? '';
  const before = known.get(key);
  if (before !== undefined) return before;
  const right = troubleIn(PrinterProfile, v) === '';
  if (known.size >= mostKnown) known.clear();
  known.set(key, right);
  return right;
}

const isLaidFor = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { printer, supportMm3, ...more } = v as Record<string, unknown>;
  return isPrinter(printer) && finite(supportMm3) && supportMm3 >= 0 && Object.keys(more).length === 0;
};

const isLaidPart = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const {
    tag,
    mesh,
    rotation,
    heightMm,
    durationS,
    materialG,
    settings = '',
    holdMm = 0,
    of,
    laidFor,
    ...more
  } = v as Record<string, unknown>;
  return (
    isWord(tag, 40) &&
    typeof mesh === 'string' &&
    /^[0-9a-f]{64}$/.test(mesh) &&
    isRotation(rotation) &&
    isMm(heightMm) &&
    finite(durationS) &&
    durationS >= 0 &&
    finite(materialG) &&
    materialG >= 0 &&
    typeof settings === 'string' &&
    settings.length <= 200 &&
    finite(holdMm) &&
    holdMm >= 0 &&
    holdMm <= mostHoldMm &&
    (of === undefined || isOwner(of)) &&
    (laidFor === undefined || isLaidFor(laidFor)) &&
    Object.keys(more).length === 0
  );
};

/** Parts as they lie. */
export const IsLaidParts = (most: number, options?: ValidationOptions) =>
  by(
    'isLaidParts',
    (v) => Array.isArray(v) && v.length <= most && v.every(isLaidPart),
    `up to ${most} parts, each with its tag, the hash of its mesh, the rows of its rotation, its height in mm, seconds and grams`,
    {
      type: 'array',
      items: fields(
        {
          tag: { type: 'string', minLength: 1, maxLength: 40 },
          mesh: { type: 'string', pattern: '^[0-9a-f]{64}$' },
          rotation: tripleOf(tripleOf({ type: 'number' })),
          heightMm: mm,
          durationS: { type: 'number', minimum: 0 },
          materialG: { type: 'number', minimum: 0 },
          settings: { type: 'string', maxLength: 200 },
          holdMm: { type: 'number', minimum: 0, maximum: mostHoldMm },
          laidFor: fields(
            {
              printer: { type: 'object', description: 'the fields of a PrinterProfile; those left out are usual' },
              supportMm3: { type: 'number', minimum: 0 },
            },
            ['printer', 'supportMm3'],
          ),
          of: fields(
            {
              model: { type: 'string', minLength: 1, maxLength: 100 },
              part: { type: 'string', minLength: 1, maxLength: 100 },
              tag: { type: 'string', minLength: 1, maxLength: 40 },
            },
            ['model', 'part', 'tag'],
          ),
        },
        ['tag', 'mesh', 'rotation', 'heightMm', 'durationS', 'materialG'],
      ),
      maxItems: most,
    },
    options,
  );
