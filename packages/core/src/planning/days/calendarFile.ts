import ical, { ICalAlarmType } from 'ical-generator';
import { massText, secondsText } from '../../words/numbers.ts';
import type { DaysPlan, PlannedBedful } from './DaysPlan.ts';

/** What a person does takes so long in a calendar at least, ms. */
const shortestMs = 10 * 60_000;
/** Before it begins a calendar says so, s. */
const saidBeforeS = 600;

const named = ({ bedful, project }: PlannedBedful): string => (project ? `${bedful} of ${project}` : bedful);

/**
 * What a person has to do as a calendar file (RFC 5545), in universal time: beds to load, looks, beds to clear, spools to
 * change, work on the bench. Each is known by what it is about, so that a calendar that reads the file again moves it.
 */
export function calendarFile(plan: DaysPlan, nowMs: number): string {
  const calendar = ical({ name: 'Jasmorphe', prodId: { company: 'Jasmorphe', product: 'Days', language: 'EN' } });
  const add = (id: string, at: string | null, until: string | null, summary: string, description = ''): void => {
    if (at === null) return;
    const start = new Date(at);
    const end = new Date(Math.max(Date.parse(until ?? at), start.getTime() + shortestMs));
    const event = calendar.createEvent({
      id: `${id}@jasmorphe`,
      start,
      end,
      summary,
      description,
      stamp: new Date(nowMs),
    });
    event.createAlarm({ type: ICalAlarmType.display, trigger: saidBeforeS, description: summary });
  };
  for (const d of plan.days) {
    const key = encodeURIComponent(d.id || `${d.project} ${d.bedful}`);
    const draws = d.draws.map((w) => `${massText(w.grams)} from ${w.spool}`).join(', ');
    if (!d.running)
      add(
        `${key}-load`,
        d.loadAt,
        d.startsAt,
        `Load ${named(d)} on ${d.printer}`,
        [`Prints ${secondsText(d.durationS)}. Watch the first layers.`, draws].filter(Boolean).join(' '),
      );
    for (const [i, look] of d.looks.entries())
      add(`${key}-look${i}`, look.at, null, `Look at ${named(d)} on ${d.printer}`);
    for (const [i, stop] of d.stops.entries())
      add(`${key}-stop${i}`, stop.at, null, `${named(d)} on ${d.printer} stops: ${stop.says || 'something to do'}`);
    for (const [i, draw] of d.draws.slice(1).entries())
      add(`${key}-spool${i}`, draw.at, null, `Spool runs out on ${d.printer}: go on with ${draw.spool}`);
    add(`${key}-off`, d.offAt, null, `${named(d)} off ${d.printer}`);
  }
  for (const [i, b] of plan.bench.entries())
    if (b.what === 'glue' || b.what === 'seams')
      add(
        `${encodeURIComponent(b.project)}-bench${i}`,
        b.from,
        b.to,
        b.what === 'glue' ? `Glue ${b.project}` : `Seams of ${b.project}`,
      );
  for (const p of plan.projects)
    add(`${encodeURIComponent(p.project)}-ready`, p.ready, null, `${p.project || 'All'} ready to paint`);
  return calendar.toString();
}
