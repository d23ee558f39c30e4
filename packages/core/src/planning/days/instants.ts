import { isMoment, isWholeDay } from '../../params/moments.ts';
import { MeshError } from '../../run/MeshError.ts';

const two = (n: number): string => String(n).padStart(2, '0');

/** An instant as the clock of the workshop shows it, with how far that is from universal time: 2026-11-28T17:00+01:00. */
export function localTime(ms: number): string {
  const d = new Date(ms);
  const off = -d.getTimezoneOffset();
  const [h, m] = [Math.floor(Math.abs(off) / 60), Math.abs(off) % 60];
  return (
    `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}T${two(d.getHours())}:${two(d.getMinutes())}` +
    `${off < 0 ? '-' : '+'}${two(h)}:${two(m)}`
  );
}

/** The day of an instant by the clock of the workshop: 2026-11-28. */
export const localDay = (ms: number): string => localTime(ms).slice(0, 10);

/**
 * The instant that is said as a day, or as a day with a time: by the clock of the workshop where no zone stands behind it.
 *
 * @param ofDay which end of it a day alone means
 * @returns ms
 * @throws MeshError `bad-params`
 */
export function instantOf(text: string, field: string, ofDay: 'begin' | 'end' = 'begin'): number {
  if (isWholeDay(text)) {
    const [y, m, d] = text.split('-').map(Number);
    return (ofDay === 'begin' ? new Date(y, m - 1, d) : new Date(y, m - 1, d, 23, 59)).getTime();
  }
  if (isMoment(text)) return new Date(text).getTime();
  throw new MeshError('bad-params', `"${text}" is no time.`, 'Write 2026-11-28 or 2026-11-28T17:30.', field);
}
