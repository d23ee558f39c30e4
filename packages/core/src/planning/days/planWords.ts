import { countOf, fixed, massText, secondsText } from '../../words/numbers.ts';
import type { DaysPlan, PlannedBedful, PlanNote, PrinterRecord } from './DaysPlan.ts';
import { expectedS } from '../bedfuls/packBeds.ts';
import type { FailureRate } from './failures.ts';
import type { WhatIf } from './whatIfs.ts';

const days = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];
const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** An instant as its own clock shows it, whatever zone the reader is in: "Fri 27 Nov, 17:10". */
export function clockText(at: string | null, withTime = true): string {
  const read = at === null ? null : /^(\d+)-(\d\d)-(\d\d)T(\d\d:\d\d)/.exec(at);
  if (!read) return '—';
  const [, y, m, d, time] = read;
  const weekday = new Date(Date.UTC(Number(y), Number(m) - 1, Number(d))).getUTCDay();
  return `${days[weekday]} ${Number(d)} ${months[Number(m) - 1]}${withTime ? `, ${time}` : ''}`;
}

/** What is to be settled, worst first. */
const noteSeverity: Record<PlanNote['kind'], 'failure' | 'attention' | 'note'> = {
  'no-time': 'failure',
  short: 'failure',
  late: 'failure',
  'wish-missed': 'attention',
  'swap-alone': 'attention',
  'stands-still': 'attention',
  without: 'attention',
  unseen: 'note',
};

/** A note of a plan as a sentence, with what to do. */
export function noteText(note: PlanNote): string {
  switch (note.kind) {
    case 'no-time':
      return `${note.bedful} takes ${secondsText(note.hours * 3600)} and finds no time: let it print on at night, be there at other hours, or divide it over two beds.`;
    case 'wish-missed':
      return `${note.bedful} begins ${secondsText(note.hours * 3600)} later than it was put: its printer is not free, or nobody is there.`;
    case 'short':
      return `${note.bedful} wants ${massText(note.grams)} more than is left on spools that suit it.`;
    case 'swap-alone':
      return `${note.bedful} uses a spool up while nobody is there to go on with ${note.spool}: it would stop until then.`;
    case 'stands-still':
      return `${note.bedful} stands still for ${secondsText(note.hours * 3600)} at a stop (${note.says || 'something to do'}) until somebody comes: begin it at another time.`;
    case 'unseen':
      return `Nobody is there to look at ${note.bedful} again while it prints.`;
    case 'without':
      return `When ${note.project || 'it'} is ready nobody can tell: ${countOf(note.parts.length, 'part')} of it ${note.parts.length === 1 ? 'is' : 'are'} in none of these bedfuls: ${note.parts.join(', ')}.`;
    case 'late':
      return `${note.project || 'What is planned'} is not ready by the deadline.`;
  }
}

/** Notes of a plan as sentences, the worst first: what several bedfuls want of spools is said once. */
export function notesText(notes: readonly PlanNote[]): { severity: 'failure' | 'attention' | 'note'; text: string }[] {
  const short = notes.flatMap((n) => (n.kind === 'short' ? [n] : []));
  const unseen = notes.flatMap((n) => (n.kind === 'unseen' ? [n] : []));
  const rest = notes.filter(
    (n) => (n.kind !== 'short' || short.length < 3) && (n.kind !== 'unseen' || unseen.length < 3),
  );
  const out = rest.map((n) => ({ severity: noteSeverity[n.kind], text: noteText(n) }));
  const list = (all: readonly { bedful: string }[]): string =>
    all.map((n, i) => (i > 0 ? n.bedful.replace(/^Bedful /, '') : n.bedful)).join(', ');
  if (short.length >= 3) {
    const grams = short.reduce((n, s) => n + s.grams, 0);
    out.push({
      severity: 'failure',
      text: `${short.length} bedfuls want ${massText(grams)} more than is left on spools that suit them: ${list(short)}.`,
    });
  }
  if (unseen.length >= 3)
    out.push({ severity: 'note', text: `Nobody is there to look again while these print: ${list(unseen)}.` });
  const rank = { failure: 0, attention: 1, note: 2 };
  return out.sort((a, b) => rank[a.severity] - rank[b.severity]);
}

/** How often a printer fails, and what that rests on: "1 in 160 h, the usual rate until its log tells more". */
export function recordText({ perHour, low, high, prints, hours }: FailureRate): string {
  const one = (rate: number): string => fixed(1 / rate, 0);
  return prints === 0
    ? `1 failure in ${one(perHour)} h, the usual rate (our own judgement) until its log tells more`
    : `1 failure in ${one(perHour)} h (1 in ${one(high)} to 1 in ${one(low)}), from ${prints} of its prints and ${fixed(hours, 0)} h`;
}

/** What a time comes to in the mean when what fails begins anew, (e^(rt) − 1) / r: "13.9 h expected, 1 failure in 118 h (…)". */
export const riskText = (seconds: number, rate: FailureRate): string =>
  `${secondsText(expectedS(seconds, rate.perHour))} expected with what fails and begins anew: ${recordText(rate)}`;

/** The rate of a printer as a plan tells of it. */
export const rateIn = ({ perHour, perHourLow, perHourHigh, prints, hours }: PrinterRecord): FailureRate => ({
  perHour,
  low: perHourLow,
  high: perHourHigh,
  prints,
  hours,
});

/** A time of a plan, with where it likely lies: "61 h, 9 of 10 within 57–66 h". */
export function hoursText({ durationS, likelyS }: Pick<PlannedBedful, 'durationS' | 'likelyS'>): string {
  if (likelyS === null) return secondsText(durationS);
  const [low, high] = likelyS.map((s) => fixed(s / 3600, 0));
  return `${secondsText(durationS)}, 9 of 10 within ${low}–${high} h`;
}

/** What a time that was said comes to by the log of its printer: "by its log 61.0 h, 9 of 10 within 57–66 h (12 prints of grey)". */
export function calibratedText(
  seconds: number,
  {
    factor,
    low,
    high,
    prints,
    material,
  }: { factor: number; low: number; high: number; prints: number; material: string },
): string {
  const h = (f: number): string => fixed((seconds / 3600) * f, seconds * f < 36_000 ? 1 : 0);
  return `by its log ${secondsText(seconds * factor)}, 9 of 10 within ${h(low)}–${h(high)} h (${prints} prints${material && ` of ${material}`})`;
}

/** A chance in words: "1 chance in 4 of being late". */
export function latenessText(share: number): string {
  if (share < 0.005) return 'Next to no chance of being late';
  if (share > 0.995) return 'It will be late';
  if (share > 0.5) return `${fixed(share * 100, 0)} chances in 100 of being late`;
  return `1 chance in ${fixed(1 / share, 0)} of being late`;
}

/** What one column of what-ifs is called. */
export function whatIfName({ kind, what }: Pick<WhatIf, 'kind' | 'what'>): string {
  switch (kind) {
    case 'more':
      return `Another ${what}`;
    case 'thicker':
      return `${fixed(Number(what), 2)} mm layers`;
    case 'nozzle':
      return `${fixed(Number(what), 2)} mm nozzle`;
    case 'walls':
      return `${what} walls`;
    case 'cuts':
      return `Cut: ${what}`;
  }
}

/** Spools of a kilogram that hold so much. */
export const spoolsFor = (grams: number): number => Math.max(0, Math.ceil(grams / 1000 - 1e-9));

/** The last of instants, whatever zone each is in. */
const latest = (instants: readonly string[]): string =>
  instants.reduce((a, b) => (Date.parse(b) > Date.parse(a) ? b : a));

/** What the whole comes to, in a sentence. */
export const planSays = ({ ready, readyP90, lateProbability, projects }: DaysPlan): string =>
  ready === null
    ? projects.some((p) => p.without.length > 0)
      ? `What is on bedfuls is printed ${projects.some((p) => p.printed === null) ? 'in part: some of it finds no time' : `by ${clockText(latest(projects.map((p) => p.printed!)))}`}. When it is ready nobody can tell: not all of it is on bedfuls.`
      : 'Part of it finds no time.'
    : `Ready on ${clockText(ready)} if nothing fails; nine times of ten by ${clockText(readyP90)}.` +
      (lateProbability === null ? '' : ` ${latenessText(lateProbability)}.`);
