import { countOf, fixed } from '../words/numbers.ts';
import type { PrinterProfile } from './PrinterProfile.ts';

/** What a printer is set to, in a line: parts of which it says the same may lie on one bed. */
export function settingsText(p: PrinterProfile): string {
  if (p.kind === 'resin') return `${fixed(p.layerMm, 3)} mm layers, ${fixed(p.exposureS, 1)} s of light`;
  return [
    `${fixed(p.layerMm, 2)} mm layers`,
    `${fixed(p.nozzleMm, 2)} mm nozzle`,
    countOf(p.walls, 'wall'),
    `${fixed(p.infillPct, 0)} % infill`,
    p.supports ? `support beyond ${fixed(p.overhangDeg, 0)}°` : 'no support',
  ].join(', ');
}
