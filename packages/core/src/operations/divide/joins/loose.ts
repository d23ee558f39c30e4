import type { DecidedBolt } from './bolts.ts';
import type { Decided } from './decide.ts';
import type { LoosePart, PlacedJoin } from './Join.ts';

/** A dowel is shorter than its two holes by this, mm (common practice). */
const dowelEndMm = 0.5;

/** Length of what goes into holes of a depth on both sides, mm. */
export const dowelLength = (depth: number, clearance: number): number => 2 * (depth + clearance) - dowelEndMm;

const oneDigit = (mm: number): string => String(Math.round(10 * mm) / 10);

/** What is bought or printed for a join, by its size; empty where nothing is. */
export function sizeOf(kind: PlacedJoin['kind'], join: Decided, lengthMm: number): string {
  if (kind === 'dowel' || kind === 'square') return `${oneDigit(join.across)} x ${oneDigit(lengthMm)}`;
  if (kind === 'magnet') return `${oneDigit(join.across)} x ${oneDigit(join.depth)}`;
  if (kind === 'bolt') return `${(join as DecidedBolt).fit.size.name} x ${join.length}`;
  return '';
}

/** The things of one join, with how many there are of each. */
function thingsOf(join: Decided, loose: boolean, clearance: number): LoosePart[] {
  const { across, depth, length, keyed } = join;
  const thing = (
    kind: LoosePart['kind'],
    lengthMm: number,
    more: Partial<LoosePart> & Pick<LoosePart, 'size'>,
  ): LoosePart => ({ kind, acrossMm: across, lengthMm, heightMm: across, keyed: false, count: 1, ...more });
  if (join.kind === 'bolt') {
    const { name, nutFlats, nutHeight } = (join as DecidedBolt).fit.size;
    return [
      thing('bolt', length, { size: sizeOf('bolt', join, length) }),
      thing('nut', nutHeight, { size: name, acrossMm: nutFlats, heightMm: nutFlats }),
    ];
  }
  if (join.kind === 'magnet') return [thing('magnet', depth, { size: sizeOf('magnet', join, depth), count: 2 })];
  if (!loose) return [];
  const long = dowelLength(depth, clearance);
  if (join.kind === 'tongue') {
    const size = `${oneDigit(across)} x ${oneDigit(length)} x ${oneDigit(long)}`;
    return [thing('tongue', length, { size, heightMm: long, keyed })];
  }
  const kind = join.kind === 'key' || join.kind === 'square' ? 'square' : 'dowel';
  return [thing(kind, long, { size: sizeOf(kind, join, long), keyed })];
}

/** What has to be printed apart or bought, by size; `both` sides have holes for what is loose. */
export function looseOf(made: readonly { join: Decided; on: string }[], clearance: number): LoosePart[] {
  const out = new Map<string, LoosePart>();
  for (const { join, on } of made)
    for (const one of thingsOf(join, on === 'both', clearance)) {
      const key = `${one.kind} ${one.size} ${one.keyed}`;
      const known = out.get(key);
      if (known) known.count += one.count;
      else out.set(key, one);
    }
  return [...out.values()].sort((a, b) => a.kind.localeCompare(b.kind) || b.acrossMm - a.acrossMm);
}
