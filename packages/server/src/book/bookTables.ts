import { tagsText } from '@jasmorphe/contracts/reading/tags';
import type { BookTablesView } from '@jasmorphe/contracts/dayViews';
import type { Book } from './Book.ts';

export const tableNames = [
  'parts',
  'bedfuls',
  'days',
  'shopping',
  'assembly',
] as const satisfies (keyof BookTablesView)[];
export type TableName = (typeof tableNames)[number];

const round = (value: number | null, digits: number): number | null =>
  value === null ? null : Number(value.toFixed(digits));
const hours = (s: number | null): number | null => round(s === null ? null : s / 3600, 2);

/** The tables of a book, for programs. */
export function bookTables({ parts, bedfuls, plan, steps }: Book): BookTablesView {
  return {
    parts: {
      heads: [
        'tag',
        'model',
        'state',
        'x mm',
        'y mm',
        'z mm',
        'lies',
        'settings',
        'hours',
        'expected h',
        'grams',
        'bedful',
        'printer',
        'joins',
        'stops',
      ],
      rows: parts.map((p) => [
        p.tag,
        p.model,
        p.state,
        round(p.size.x, 2),
        round(p.size.y, 2),
        round(p.size.z, 2),
        p.lies,
        p.settings,
        hours(p.durationS),
        hours(p.expectedS),
        round(p.materialG, 1),
        p.bedful,
        p.printer,
        p.joins.join('; '),
        p.stops.join('; '),
      ]),
    },
    bedfuls: {
      heads: ['bedful', 'printer', 'parts', 'hours', 'grams', 'full %', 'state'],
      rows: bedfuls.map((b) => [
        b.number,
        b.printer,
        tagsText(b),
        hours(b.durationS),
        round(b.materialG, 1),
        round(b.fillPct, 0),
        b.state,
      ]),
    },
    days: {
      heads: ['bedful', 'printer', 'load', 'printed by', 'off', 'hours', 'expected hours', 'from'],
      rows: (plan?.days ?? []).map((d) => [
        d.bedful,
        d.printer,
        d.loadAt,
        d.endsAt,
        d.offAt,
        hours(d.durationS),
        hours(d.expectedS),
        d.draws.map((w) => `${w.spool} ${Math.round(w.grams)} g`).join('; '),
      ]),
    },
    shopping: {
      heads: ['kind', 'material', 'colour', 'grams', 'of that for failures'],
      rows: (plan?.buy ?? []).map((b) => [b.kind, b.material, b.colour, round(b.grams, 0), round(b.allowanceG, 0)]),
    },
    assembly: {
      heads: ['model', 'step', 'put', 'to', 'from', 'mind'],
      rows: steps.map((s) => [s.model, s.no, s.put, s.to, s.from, s.advice.join(' ')]),
    },
  };
}
