/** A print that has to be done on one of some printers. */
export interface Print {
  durationS: number;
  /** numbers of the printers that can do it, at least one */
  onto: readonly number[];
}

/** What one printer is given. */
export interface PrinterShare {
  parts: number;
  durationS: number;
}

/** Shares prints out, the longest first, each to whichever of its printers is free first (Graham 1969). */
export function sharesOf(prints: readonly Print[], printers: number): PrinterShare[] {
  const shares = Array.from({ length: Math.max(1, printers) }, (): PrinterShare => ({ parts: 0, durationS: 0 }));
  for (const { durationS, onto } of [...prints].sort((a, b) => b.durationS - a.durationS)) {
    const own = onto.reduce((a, b) => (shares[b].durationS < shares[a].durationS ? b : a));
    shares[own].parts++;
    shares[own].durationS += durationS;
  }
  return shares;
}

/** Seconds until the last of several printers is done. */
export const makespanOn = (prints: readonly Print[], printers: number): number =>
  Math.max(...sharesOf(prints, printers).map((s) => s.durationS));
