import { figures } from '../../trade/figures.ts';
import { expectedS } from '../bedfuls/packBeds.ts';

/** A model as it is cut now. */
export interface CutNow {
  /** its longest side, and that of its parts in the mean, mm */
  modelMm: number;
  pieceMm: number;
  pieces: number;
  joints: number;
  /** hours of printing of all of it, without start-ups, s */
  printS: number;
  /** of each print, s */
  startS: number;
  perHour: number;
}

export interface CutCurve {
  /** piece length, mm, with expected seconds of machine and bench together */
  points: { pieceMm: number; pieces: number; machineS: number; benchS: number }[];
  /** where it is least */
  best: number;
  /** expected hours of the present cut, s */
  nowS: number;
  /** what one piece more would save, s; below 0 where it costs */
  oneMoreS: number;
}

const steps = 48;
/** The curve begins at so many pieces, or at so many times those there are. */
const mostPieces = 40;
const mostTimes = 6;

/**
 * Expected hours, failures and bench work together, by how long the pieces are. Pieces grow in number as the model is
 * cut now (n pieces of length l out of L: n = (L/l)^d), joints with them; each fails and is begun anew by itself:
 * (e^(rt) - 1)/r.
 *
 * @returns null where there is one piece alone, or nothing to print
 */
export function cutCurve(now: CutNow): CutCurve | null {
  const { modelMm, pieceMm, pieces, joints, printS, startS, perHour } = now;
  if (!(printS > 0 && pieceMm > 0 && modelMm > 0 && pieces > 0)) return null;
  const ratio = Math.log(modelMm / pieceMm);
  const dimension = pieces > 1 && ratio > 0.05 ? Math.min(3, Math.max(1, Math.log(pieces) / ratio)) : 1;
  // where it is in one piece, one joint more comes with each cut
  const jointsOf = (n: number): number => (pieces > 1 ? (joints * Math.max(0, n - 1)) / (pieces - 1) : n - 1);
  const of = (n: number) => ({
    machineS: n * expectedS(printS / n + startS, perHour) + n * figures.changeBedS.value,
    benchS: jointsOf(n) * (figures.glueJointS.value + figures.seamJointS.value),
  });
  const sum = (n: number): number => {
    const { machineS, benchS } = of(n);
    return machineS + benchS;
  };
  const least = Math.min(pieceMm, modelMm) * (Math.max(mostPieces, mostTimes * pieces) / pieces) ** (-1 / dimension);
  const points = Array.from({ length: steps + 1 }, (_, k) => {
    const l = least * (modelMm / least) ** (k / steps);
    const n = Math.max(1, pieces * (pieceMm / l) ** dimension);
    return { pieceMm: l, pieces: n, ...of(n) };
  });
  let best = 0;
  for (const [k, p] of points.entries())
    if (p.machineS + p.benchS < points[best].machineS + points[best].benchS) best = k;
  return { points, best, nowS: sum(pieces), oneMoreS: sum(pieces) - sum(pieces + 1) };
}
