import type { ValidationOptions } from 'class-validator';
import { by, fields, finite } from '../../params/checks.ts';

/** What lies on a bed by name, as it was put there. */
export interface PlacedOnBed {
  /** name of its printer */
  printer: string;
  parts: {
    tag: string;
    /** middle of its box, from the front left corner of the bed, mm */
    at: { x: number; y: number };
    turnDeg: number;
  }[];
}

const most = 1e5;
const isMm = (v: unknown): boolean => finite(v) && Math.abs(v) <= most;
const isName = (v: unknown, longest: number): boolean => typeof v === 'string' && v.length > 0 && v.length <= longest;

const isPlacedPart = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { tag, at, turnDeg, ...more } = v as Record<string, unknown>;
  if (at === null || typeof at !== 'object') return false;
  const { x, y, ...rest } = at as Record<string, unknown>;
  return (
    isName(tag, 40) &&
    isMm(x) &&
    isMm(y) &&
    finite(turnDeg) &&
    Math.abs(turnDeg) <= 3600 &&
    Object.keys({ ...more, ...rest }).length === 0
  );
};

const isPlacedOnBed = (v: unknown): boolean => {
  if (v === null || typeof v !== 'object') return false;
  const { printer, parts, ...more } = v as Record<string, unknown>;
  return (
    isName(printer, 80) &&
    Array.isArray(parts) &&
    parts.length <= 300 &&
    parts.every(isPlacedPart) &&
    Object.keys(more).length === 0
  );
};

const mm = { type: 'number', minimum: -most, maximum: most };

/** Bedfuls as they were put together. */
export const ArePlacedBedfuls = (mostBedfuls: number, options?: ValidationOptions) =>
  by(
    'arePlacedBedfuls',
    (v) => Array.isArray(v) && v.length <= mostBedfuls && v.every(isPlacedOnBed),
    `up to ${mostBedfuls} bedfuls, each with its printer and parts, of each its tag, where its middle lies in mm and how far it is turned in degrees`,
    {
      type: 'array',
      items: fields(
        {
          printer: { type: 'string', minLength: 1, maxLength: 80 },
          parts: {
            type: 'array',
            items: fields(
              {
                tag: { type: 'string', minLength: 1, maxLength: 40 },
                at: fields({ x: mm, y: mm }, ['x', 'y']),
                turnDeg: { type: 'number', minimum: -3600, maximum: 3600 },
              },
              ['tag', 'at', 'turnDeg'],
            ),
            maxItems: 300,
          },
        },
        ['printer', 'parts'],
      ),
      maxItems: mostBedfuls,
    },
    options,
  );
