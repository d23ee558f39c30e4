import type { FitReading, KeepOut } from '@jasmorphe/core/params/checks';

/** Keep-outs as they are typed: corners x,y-x,y, apart by semicolons. */
export const keepOutsText = (keepOuts: readonly KeepOut[]): string =>
  keepOuts.map(({ min, max }) => `${min.join(',')}-${max.join(',')}`).join('; ');

/** What was typed; null where it is not understood. */
export function readKeepOuts(text: string): KeepOut[] | null {
  const out: KeepOut[] = [];
  for (const part of text.split(';')) {
    if (part.trim() === '') continue;
    const found = /^\s*(\d+(?:\.\d+)?)\s*,\s*(\d+(?:\.\d+)?)\s*-\s*(\d+(?:\.\d+)?)\s*,\s*(\d+(?:\.\d+)?)\s*$/.exec(
      part,
    );
    if (!found) return null;
    const [x0, y0, x1, y1] = found.slice(1).map(Number);
    if (!(x0 < x1 && y0 < y1)) return null;
    out.push({ min: [x0, y0], max: [x1, y1] });
  }
  return out;
}

/** Readings of the fit gauge as they are typed: a material and its step, apart by semicolons. */
export const fitsText = (fits: readonly FitReading[]): string => fits.map((f) => `${f.material} ${f.mm}`).join('; ');

/** What was typed; null where it is not understood. */
export function readFits(text: string): FitReading[] | null {
  const out: FitReading[] = [];
  for (const part of text.split(';')) {
    if (part.trim() === '') continue;
    const found = /^\s*(\S.*?)\s+(\d+(?:[.,]\d+)?)\s*(?:mm)?\s*$/.exec(part);
    if (!found) return null;
    const mm = Number(found[2].replace(',', '.'));
    if (mm > 5 || out.some((f) => f.material === found[1])) return null;
    out.push({ material: found[1].slice(0, 80), mm });
  }
  return out;
}
