import type { Decided } from './decide.ts';
import type { LoosePart } from './Join.ts';

/** A dowel is shorter than its two holes by this, mm (common practice). */
const dowelEndMm = 0.5;

/** Length of what goes into holes of a depth on both sides, mm. */
export const dowelLength = (depth: number, clearance: number): number => 2 * (depth + clearance) - dowelEndMm;

export const oneDigit = (mm: number): string => String(Math.round(10 * mm) / 10);

/** A thing for a join, as usual but for what is said. */
export const thing = (
  kind: LoosePart['kind'],
  { across }: Pick<Decided, 'across'>,
  lengthMm: number,
  more: Partial<LoosePart> & Pick<LoosePart, 'size'>,
): LoosePart => ({ kind, acrossMm: across, lengthMm, heightMm: across, keyed: false, count: 1, ...more });

/** Things for all joins, by size, with how many there are of each. */
export function countedThings(things: readonly LoosePart[]): LoosePart[] {
  const out = new Map<string, LoosePart>();
  for (const one of things) {
    const key = `${one.kind} ${one.size} ${one.keyed}`;
    const known = out.get(key);
    if (known) known.count += one.count;
    else out.set(key, one);
  }
  return [...out.values()].sort((a, b) => a.kind.localeCompare(b.kind) || b.acrossMm - a.acrossMm);
}
