import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import type { ReportOf } from '@jasmorphe/core/operations/catalogue';
import type { PlacedOnBed } from '@jasmorphe/core/planning/bedfuls/PlacedOnBed';

/** A part where it lies on a drawn bed. */
export interface DrawnPart {
  tag: string;
  at: { x: number; y: number };
  turnDeg: number;
  path: string;
  clashes: boolean;
}

/** A bed from above. */
export interface DrawnBed {
  printer: string;
  bedMm: [number, number];
  parts: DrawnPart[];
}

export const drawnOf = (b: ReportOf<'bedfuls'>['bedfuls'][number] | BedfulView): DrawnBed => ({
  printer: b.printer,
  bedMm: b.bedMm,
  parts: b.parts.map((p) => ({
    tag: p.tag,
    at: p.at,
    turnDeg: p.turnDeg,
    path: p.path,
    clashes: 'clashes' in p && p.clashes,
  })),
});

/** Beds as they are asked with. */
export const placedOf = (beds: readonly DrawnBed[]): PlacedOnBed[] =>
  beds
    .filter((b) => b.parts.length > 0)
    .map(({ printer, parts }) => ({
      printer,
      parts: parts.map(({ tag, at, turnDeg }) => ({
        tag,
        // so fine that what fills its bed still does
        at: { x: Math.round(at.x * 1000) / 1000, y: Math.round(at.y * 1000) / 1000 },
        turnDeg,
      })),
    }));

/** What was done to the beds by hand. */
export type BedMove =
  | { kind: 'shift'; tag: string; by: { x: number; y: number } }
  | { kind: 'put'; tag: string; bed: number; at: { x: number; y: number } }
  | { kind: 'turn'; tag: string; byDeg: number }
  /** on a bed of its own, or wherever it goes: null */
  | { kind: 'send'; tag: string; to: number | 'new' | null }
  | { kind: 'printer'; bed: number; printer: string; bedMm: [number, number] };

const middleOf = ([x, y]: readonly [number, number]): { x: number; y: number } => ({ x: x / 2, y: y / 2 });

/** Beds after something was done by hand; empty ones are gone. What goes wherever it goes is on none. */
export function afterMove(beds: readonly DrawnBed[], move: BedMove): DrawnBed[] {
  if (move.kind === 'printer')
    return beds.map((b, i) => (i === move.bed ? { ...b, printer: move.printer, bedMm: move.bedMm } : b));
  const from = beds.findIndex((b) => b.parts.some((p) => p.tag === move.tag));
  const part = beds[from]?.parts.find((p) => p.tag === move.tag);
  if (!part) return [...beds];
  const changed = (change: Partial<DrawnPart>): DrawnBed[] =>
    beds.map((b, i) =>
      i === from ? { ...b, parts: b.parts.map((p) => (p.tag === move.tag ? { ...p, ...change } : p)) } : b,
    );
  if (move.kind === 'shift') return changed({ at: { x: part.at.x + move.by.x, y: part.at.y + move.by.y } });
  if (move.kind === 'turn') return changed({ turnDeg: (((part.turnDeg + move.byDeg) % 360) + 360) % 360 });
  const to = move.kind === 'put' ? move.bed : move.to;
  if (to === from) return move.kind === 'put' ? changed({ at: move.at }) : [...beds];
  const without = beds.map((b, i) => (i === from ? { ...b, parts: b.parts.filter((p) => p.tag !== move.tag) } : b));
  const { printer, bedMm } = beds[from];
  const on =
    to === null
      ? without
      : to === 'new'
        ? [...without, { printer, bedMm, parts: [{ ...part, at: middleOf(bedMm) }] }]
        : without.map((b, i) =>
            i === to
              ? { ...b, parts: [...b.parts, { ...part, at: move.kind === 'put' ? move.at : middleOf(b.bedMm) }] }
              : b,
          );
  return on.filter((b) => b.parts.length > 0);
}

interface Rectangle {
  x: number;
  y: number;
  wide: number;
  high: number;
}

const row = /M(-?[\d.]+) (-?[\d.]+)h(-?[\d.]+)v(-?[\d.]+)/g;

/** The rows of a shadow's path, in mm from its middle. */
const rowsOf = (path: string): Rectangle[] =>
  [...path.matchAll(row)].map(([, x, y, wide, high]) => ({
    x: Number(x),
    y: Number(y),
    wide: Number(wide),
    high: Number(high),
  }));

/** Drawn rows are up to so much too wide, mm. */
const drawnMm = 2;

/** Would a part overlap others of a bed or their gap, or reach beyond it, with its middle there? By the drawn shadows. */
export function wouldClash(
  part: Pick<DrawnPart, 'tag' | 'path'>,
  at: { x: number; y: number },
  bed: DrawnBed,
  apartMm: number,
): boolean {
  const own = rowsOf(part.path).map((r) => ({ ...r, x: r.x + at.x, y: r.y + at.y }));
  const [wide, deep] = bed.bedMm;
  const beyond = ({ x, y, wide: w, high }: Rectangle): boolean =>
    x < -drawnMm || y < -drawnMm || x + w > wide + drawnMm || y + high > deep + drawnMm;
  if (own.some(beyond)) return true;
  const gap = Math.max(0, apartMm - drawnMm);
  return bed.parts.some(
    (other) =>
      other.tag !== part.tag &&
      rowsOf(other.path).some((o) => {
        const [x, y] = [o.x + other.at.x - gap, o.y + other.at.y - gap];
        return own.some(
          (r) => r.x < x + o.wide + 2 * gap && r.x + r.wide > x && r.y < y + o.high + 2 * gap && r.y + r.high > y,
        );
      }),
  );
}
