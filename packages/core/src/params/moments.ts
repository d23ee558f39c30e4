import type { ValidationOptions } from 'class-validator';
import { by } from './checks.ts';

/** Is it a day that there is, such as 2026-12-18? 31 February is none. */
export function isWholeDay(text: unknown): boolean {
  const day = typeof text === 'string' ? /^(\d{4})-(\d\d)-(\d\d)$/.exec(text) : null;
  if (!day) return false;
  const [y, m, d] = day.slice(1).map(Number);
  const midnight = new Date(Date.UTC(y, m - 1, d));
  return midnight.getUTCMonth() === m - 1 && midnight.getUTCDate() === d;
}

/** Is it a day that there is, alone or with a time of it, such as 2026-11-28T17:30 or 2026-11-28T17:30:00.000Z? */
export const isMoment = (text: unknown): boolean =>
  typeof text === 'string' &&
  text.length <= 40 &&
  isWholeDay(text.slice(0, 10)) &&
  (text.length === 10 || (/^T\d\d:\d\d/.test(text.slice(10)) && Number.isFinite(new Date(text).getTime())));

/** A day, or nothing. */
export const IsDayOrNone = (example: string, options?: ValidationOptions) =>
  by(
    'isDayOrNone',
    (v) => v === '' || isWholeDay(v),
    `a day such as ${example}`,
    { type: 'string', pattern: '^(\\d{4}-\\d\\d-\\d\\d)?$' },
    options,
  );

/** A day, or a day with a time. */
export const IsMoment = (options?: ValidationOptions) =>
  by(
    'isMoment',
    isMoment,
    'a day, or a day with a time, such as 2026-11-28T17:30',
    { type: 'string', pattern: '^\\d{4}-\\d\\d-\\d\\d' },
    options,
  );
