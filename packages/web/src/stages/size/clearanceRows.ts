import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/describe';
import { fixed } from '@jasmorphe/core/words/numbers';
import type { ConsequenceRow } from '../../decision/Consequences.tsx';

/** How far one sees one way. */
const degrees = (deg: number): string => `${fixed(deg, 0)}°`;

/** Area of the openings ahead of the mouth, cm². */
const breathCm2 = ({ openings }: ClearanceReport): number =>
  (openings ?? []).filter((o) => o.ahead).reduce((mm2, o) => mm2 + o.areaMm2, 0) / 100;

/**
 * Room between a piece and the body in it, for each answer; and what a head sees and breathes through.
 *
 * @param sighted whether it is worn on a head
 */
export function clearanceRows(
  reports: readonly (ClearanceReport | null)[],
  length: (mm: number) => string,
  sighted: boolean,
): ConsequenceRow[] {
  const row = (label: string, of: (r: ClearanceReport) => string, method?: string): ConsequenceRow => ({
    label,
    cells: reports.map((r) => (r ? of(r) : null)),
    method,
  });
  const sight = (of: (s: NonNullable<ClearanceReport['sight']>) => string) => (r: ClearanceReport) =>
    r.sight ? of(r.sight) : '—';
  const room = [
    row('Least room', (r) => length(r.leastMm)),
    row('5 % have less than', (r) => length(r.p05Mm), 'of the inside, by area'),
    row('Typical room', (r) => length(r.typicalMm)),
    row('Touches', (r) => `${fixed(r.touchingPct, 1)} %`, 'of the inside, lining included'),
  ];
  if (!sighted) return room;
  return [
    ...room,
    row(
      'Sees left, right',
      sight(({ both }) => `${degrees(both.leftDeg)}, ${degrees(both.rightDeg)}`),
      'free without a break from straight ahead, by either eye, to 90°',
    ),
    row(
      'Sees up, down',
      sight(({ both }) => `${degrees(both.upDeg)}, ${degrees(both.downDeg)}`),
    ),
    row(
      'Field of view',
      sight(({ both, bare }) => `${fixed((100 * both.freePct) / Math.max(1, bare.freePct), 0)} %`),
      'of what the bare head sees ahead',
    ),
    row(
      'Breath ahead',
      (r) => `${fixed(breathCm2(r), 1)} cm²`,
      'openings ahead seen from the mouth; a windpipe is about 2.5 cm² across, from memory of anatomy handbooks',
    ),
  ];
}
