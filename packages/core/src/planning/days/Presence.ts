import type { HomeHours } from './HomeHours.ts';

/** No plan looks farther ahead than this, days. */
const farDays = 800;

const minutesOf = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));

/** An instant of a day of the calendar, ms; the clock of the machine knows when summer begins. */
const at = (year: number, month: number, day: number, minutes: number): number =>
  new Date(year, month, day, Math.floor(minutes / 60), minutes % 60).getTime();

/** Stretches of time in order, each from and until in ms, drawn day by day as they are asked for. */
class Stretches {
  private readonly ends: number[] = [];
  private day = -1;
  private readonly year: number;
  private readonly month: number;
  private readonly date: number;

  constructor(
    fromMs: number,
    /** stretches that begin on a day of the week, Sunday 0, in minutes of that day; until may be past midnight */
    private readonly of: (weekday: number) => readonly (readonly [number, number])[],
  ) {
    const start = new Date(fromMs);
    [this.year, this.month, this.date] = [start.getFullYear(), start.getMonth(), start.getDate()];
  }

  private draw(): void {
    const date = this.date + this.day++;
    const weekday = new Date(this.year, this.month, date).getDay();
    for (const [from, to] of this.of(weekday)) {
      const [a, b] = [at(this.year, this.month, date, from), at(this.year, this.month, date, to)];
      const { ends } = this;
      const last = ends.length - 1;
      // what touches the stretch before it lengthens that
      if (last > 0 && a <= ends[last]) ends[last] = Math.max(ends[last], b);
      else ends.push(a, b);
    }
  }

  /** The first stretch that ends after an instant; null where none comes any more. */
  after(t: number): readonly [from: number, to: number] | null {
    const { ends } = this;
    // a stretch may yet be lengthened by the day after
    while (ends.length < 4 || ends[ends.length - 3] <= t) {
      if (this.day > farDays) break;
      this.draw();
    }
    let [low, high] = [0, ends.length / 2];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (ends[2 * middle + 1] > t) high = middle;
      else low = middle + 1;
    }
    return 2 * low < ends.length ? [ends[2 * low], ends[2 * low + 1]] : null;
  }
}

/** When somebody is there, and when it is night. All instants are ms. */
export class Presence {
  private readonly home: Stretches;
  private readonly nights: Stretches;
  /** Nothing may print at night. */
  readonly rests: boolean;

  constructor(hours: HomeHours, fromMs: number) {
    const stretch = (from: string, to: string): (readonly [number, number])[] => {
      const [a, b] = [minutesOf(from), minutesOf(to)];
      return a === b ? [] : [[a, b > a ? b : b + 1440]];
    };
    const week = stretch(hours.weekdayFrom, hours.weekdayTo);
    const weekend = stretch(hours.weekendFrom, hours.weekendTo);
    const night = stretch(hours.nightFrom, hours.nightTo);
    const tended = hours.nights === 'tended' ? night : [];
    const days = [weekend, week].map((day) => [...day, ...tended].sort((a, b) => a[0] - b[0]));
    this.home = new Stretches(fromMs, (weekday) => days[weekday === 0 || weekday === 6 ? 0 : 1]);
    this.nights = new Stretches(fromMs, () => night);
    this.rests = hours.nights === 'rest';
  }

  /** The first stretch at home that ends after an instant. */
  homeAfter(t: number): readonly [number, number] | null {
    return this.home.after(t);
  }

  isThere(t: number): boolean {
    const stretch = this.home.after(t);
    return stretch !== null && stretch[0] <= t;
  }

  /** When the night begins that would overlap a print, and when it ends; null where a print may run. */
  nightOver(from: number, to: number): readonly [number, number] | null {
    if (!this.rests) return null;
    const night = this.nights.after(from);
    return night !== null && night[0] < to ? night : null;
  }
}

/** What a person does, so that two things are never done at once. Instants in ms. */
export class Diary {
  /** from and until of each, in order */
  private readonly busy: number[] = [];

  constructor(private readonly presence: Presence) {}

  /** The first instant, not before another, from which a person is there for so long and does nothing else; Infinity where there is none. */
  earliest(t: number, needMs: number): number {
    const { busy } = this;
    let k = this.firstEndingAfter(t);
    for (;;) {
      const stretch = this.presence.homeAfter(t);
      if (!stretch) return Infinity;
      const from = Math.max(t, stretch[0]);
      while (k < busy.length && busy[k + 1] <= from) k += 2;
      if (from + needMs > stretch[1]) t = stretch[1];
      else if (k < busy.length && busy[k] < from + needMs) t = busy[k + 1];
      else return from;
    }
  }

  /** Of the time that is free from an instant on the first piece, up to so long. */
  piece(t: number, mostMs: number, leastMs: number): readonly [number, number] {
    const least = Math.min(leastMs, mostMs);
    const from = this.earliest(t, least);
    if (from === Infinity) return [Infinity, Infinity];
    const [, until] = this.presence.homeAfter(from)!;
    const k = this.firstEndingAfter(from);
    const next = k < this.busy.length ? this.busy[k] : Infinity;
    return [from, Math.min(from + mostMs, until, next)];
  }

  put(from: number, to: number): void {
    if (to <= from) return;
    this.busy.splice(this.firstEndingAfter(from), 0, from, to);
  }

  private firstEndingAfter(t: number): number {
    const { busy } = this;
    let [low, high] = [0, busy.length / 2];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (busy[2 * middle + 1] > t) high = middle;
      else low = middle + 1;
    }
    return 2 * low;
  }
}
