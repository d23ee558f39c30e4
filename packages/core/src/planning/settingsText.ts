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

/** What holds a part on the bed, in a line; empty where nothing does. It is set part by part: others may lie beside it. */
export function holdText({ kind, brimMm, raftMm }: PrinterProfile): string {
  const mm = (value: number): string => `${fixed(value, value % 1 === 0 ? 0 : 1)} mm`;
  if (kind === 'resin') return '';
  return [brimMm > 0 && `brim of ${mm(brimMm)}`, raftMm > 0 && `raft ${mm(raftMm)} beyond it`]
    .filter(Boolean)
    .join(', ');
}
