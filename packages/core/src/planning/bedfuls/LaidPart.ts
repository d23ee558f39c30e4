import type { ValidationOptions } from 'class-validator';
import { by, fields, finite, isMm, isRotation, mm, tripleOf } from '../../params/checks.ts';
import { mostHoldMm } from '../PrinterProfile.ts';

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
}

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
    ...more
  } = v as Record<string, unknown>;
  return (
    typeof tag === 'string' &&
    tag.length > 0 &&
    tag.length <= 40 &&
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
        },
        ['tag', 'mesh', 'rotation', 'heightMm', 'durationS', 'materialG'],
      ),
      maxItems: most,
    },
    options,
  );
