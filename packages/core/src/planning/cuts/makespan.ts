/** A print that has to be done on one of some printers. */
export interface Print {
  /** by printer, s */
  durationsS: readonly number[];
  /** numbers of the printers that can do it, at least one */
  onto: readonly number[];
}

/** What one printer is given. */
export interface PrinterShare {
  parts: number;
  durationS: number;
  /** its longest print, s */
  longestS: number;
}

/**
 * Shares prints out, the longest first, each to whichever of its printers has it done first (Graham 1969; for printers that
 * are not alike Ibarra and Kim 1977).
 */
export function sharesOf(prints: readonly Print[], printers: number): PrinterShare[] {
  const shares = Array.from({ length: Math.max(1, printers) }, () => ({ parts: 0, durationS: 0, longestS: 0 }));
  const least = ({ durationsS, onto }: Print): number => onto.reduce((s, p) => Math.min(s, durationsS[p]), Infinity);
  for (const { durationsS, onto } of [...prints].sort((a, b) => least(b) - least(a))) {
    const done = (p: number): number => shares[p].durationS + durationsS[p];
    const own = onto.reduce((a, b) => (done(b) < done(a) ? b : a));
    shares[own].parts++;
    shares[own].durationS += durationsS[own];
    shares[own].longestS = Math.max(shares[own].longestS, durationsS[own]);
  }
  return shares;
}

/** Seconds until the last of several printers is done. */
export const makespanOn = (prints: readonly Print[], printers: number): number =>
  Math.max(...sharesOf(prints, printers).map((s) => s.durationS));
