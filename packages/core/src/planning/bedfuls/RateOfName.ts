import type { ValidationOptions } from 'class-validator';
import { by, finite } from '../../params/checks.ts';

/** How often a printer fails, by what it is called. */
export interface RateOfName {
  printer: string;
  /** failures an hour */
  perHour: number;
}

const isRate = (v: unknown): v is RateOfName =>
  typeof v === 'object' &&
  v !== null &&
  Object.keys(v).every((key) => key === 'printer' || key === 'perHour') &&
  typeof (v as RateOfName).printer === 'string' &&
  (v as RateOfName).printer.length <= 200 &&
  finite((v as RateOfName).perHour) &&
  (v as RateOfName).perHour > 0 &&
  (v as RateOfName).perHour <= 1;

export const AreFailureRates = (most: number, options?: ValidationOptions) =>
  by(
    'areFailureRates',
    (v) => Array.isArray(v) && v.length <= most && v.every(isRate),
    `up to ${most} printers, each with its failures an hour above 0 and up to 1`,
    {
      type: 'array',
      maxItems: most,
      items: {
        type: 'object',
        properties: {
          printer: { type: 'string', maxLength: 200 },
          perHour: { type: 'number', exclusiveMinimum: 0, maximum: 1 },
        },
        required: ['printer', 'perHour'],
        additionalProperties: false,
      },
    },
    options,
  );
