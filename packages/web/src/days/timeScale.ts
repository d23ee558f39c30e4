import type { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';

/*
 * Days are drawn by the clock of the workshop: instants carry their local time, and an hour that summer time skips is
 * drawn as any other. Places are in days from the midnight before the first.
 */

const read = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)/;

/** Days from the epoch of the calendar to a day of it. */
const dayNo = (y: string, m: string, d: string): number => Date.UTC(Number(y), Number(m) - 1, Number(d)) / 86_400_000;

/** Where an instant lies: days from the first midnight. @param first an instant of the first day */
export function placeOf(at: string, first: string): number {
  const a = read.exec(at);
  const b = read.exec(first);
  if (!a || !b) return 0;
  return dayNo(a[1], a[2], a[3]) - dayNo(b[1], b[2], b[3]) + (Number(a[4]) * 60 + Number(a[5])) / 1440;
}

const weekdays = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];

/** A day of the drawing by its number from the first. */
export function dayOf(n: number, first: string): { name: string; weekend: boolean } {
  const b = read.exec(first)!;
  const date = new Date(86_400_000 * (dayNo(b[1], b[2], b[3]) + n));
  const weekday = date.getUTCDay();
  return { name: `${weekdays[weekday]} ${date.getUTCDate()}`, weekend: weekday === 0 || weekday === 6 };
}

const share = (clock: string): number => (Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3))) / 1440;

/** Stretches of a day at which somebody is there, in days from its midnight; they may reach into the next. */
export function homeOn({ weekend }: { weekend: boolean }, hours: HomeHours): [number, number] | null {
  const [from, to] = weekend ? [hours.weekendFrom, hours.weekendTo] : [hours.weekdayFrom, hours.weekdayTo];
  const [a, b] = [share(from), share(to)];
  if (a === b) return null;
  return [a, b > a ? b : b + 1];
}

/** An instant so many hours later, to the quarter of an hour, as the server takes it. */
export const laterBy = (at: string, hours: number): string => {
  const quarter = 15 * 60_000;
  return new Date(Math.round((Date.parse(at) + hours * 3_600_000) / quarter) * quarter).toISOString();
};

/**
 * When a bedful is wanted after it was moved: later than it is loaded or was wanted, or earlier than both, so that
 * every press of a key goes on over hours at which nobody is there.
 */
export function movedBy(loadAt: string, wantedAt: string | null, hours: number): string {
  const [a, b] = [loadAt, wantedAt ?? loadAt].map((at) => Date.parse(at));
  return laterBy(new Date(hours > 0 ? Math.max(a, b) : Math.min(a, b)).toISOString(), hours);
}

/** Puts labels in as few lanes as they need, so that none lies on another. @returns the lane of each, in their order */
export function lanesOf(labels: readonly { from: number; to: number }[]): number[] {
  const ends: number[] = [];
  return labels.map(({ from, to }) => {
    const free = ends.findIndex((end) => end <= from);
    const lane = free < 0 ? ends.length : free;
    ends[lane] = to;
    return lane;
  });
}
