import { figures } from '../../trade/figures.ts';

/** How often prints fail, and how sure that is. */
export interface FailureRate {
  /** failures an hour */
  perHour: number;
  /** nine times of ten it lies between these */
  low: number;
  high: number;
  /** prints and hours of the log that it rests on; none: it is the usual one */
  prints: number;
  hours: number;
}

/** Chance that at least `shape` events fall into a stretch that has x in the mean (Erlang): of a whole shape in closed form. */
export function erlangBelow(shape: number, x: number): number {
  let term = Math.exp(-x);
  let sum = 0;
  for (let i = 0; i < shape; i++) {
    sum += term;
    term *= x / (i + 1);
  }
  return 1 - sum;
}

function erlangQuantile(shape: number, share: number): number {
  let [low, high] = [0, shape + 20 * Math.sqrt(shape) + 20];
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if (erlangBelow(shape, middle) < share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/**
 * The rate at which prints fail: the usual one weighs as much as one failure in as many hours as it takes, and the log
 * takes over from it as it grows (Poisson counts with a gamma prior; Gelman and others 2013, section 2.6).
 */
export function failureRate(
  { failed, hours, prints }: { failed: number; hours: number; prints: number },
  usualPerHour: number = figures.failuresPerH.value,
): FailureRate {
  const shape = 1 + failed;
  const exposure = 1 / usualPerHour + hours;
  return {
    perHour: shape / exposure,
    low: erlangQuantile(shape, 0.05) / exposure,
    high: erlangQuantile(shape, 0.95) / exposure,
    prints,
    hours,
  };
}

/** How often a printer fails, by its own prints of a log. */
export function rateBy(
  log: readonly { printer: string; hours: number; failed: boolean }[],
  printer: string,
): FailureRate {
  const own = log.filter((e) => e.printer === printer);
  const hours = own.reduce((n, e) => n + e.hours, 0);
  return failureRate({ failed: own.filter((e) => e.failed).length, hours, prints: own.length });
}

/** How long prints take against what was said beforehand. */
export interface Calibration {
  /** true time over predicted time, in the middle */
  factor: number;
  /** nine of ten lie between these */
  low: number;
  high: number;
  prints: number;
}

/** So many prints must have run before their times are believed (our own judgement). */
const leastCalibrated = 3;

const medianOf = (sorted: readonly number[]): number => {
  const k = sorted.length >> 1;
  return sorted.length % 2 ? sorted[k] : (sorted[k - 1] + sorted[k]) / 2;
};

/**
 * The line through the origin from predicted to true hours, by the median of the slopes (Theil 1950): a print that was
 * logged wrongly does not bend it. Its spread comes from the median deviation of the logarithms (1.4826 of it is one
 * standard deviation of a normal law).
 *
 * @returns null while there are too few
 */
export function calibrationOf(pairs: readonly { predictedS: number; actualS: number }[]): Calibration | null {
  const slopes = pairs
    .filter((p) => p.predictedS > 0 && p.actualS > 0)
    .map((p) => p.actualS / p.predictedS)
    .sort((a, b) => a - b);
  if (slopes.length < leastCalibrated) return null;
  const factor = medianOf(slopes);
  const off = slopes.map((s) => Math.abs(Math.log(s / factor))).sort((a, b) => a - b);
  const spread = 1.4826 * 1.645 * medianOf(off);
  return { factor, low: factor * Math.exp(-spread), high: factor * Math.exp(spread), prints: slopes.length };
}

/** A print of the log as far as its hours go. */
interface LoggedHours {
  printer: string;
  hours: number;
  /** 0 where nothing was said beforehand */
  saidHours: number;
  failed: boolean;
  material: string;
}

/** How long prints of a printer take against what was said: those of one material alone where enough of them were logged. */
export function calibrationBy(
  log: readonly LoggedHours[],
  printer: string,
  material: string = '',
): (Calibration & { material: string }) | null {
  const own = log.filter((e) => e.printer === printer && !e.failed && e.saidHours > 0);
  const by = (entries: readonly LoggedHours[]): Calibration | null =>
    calibrationOf(entries.map((e) => ({ predictedS: e.saidHours * 3600, actualS: e.hours * 3600 })));
  const ofMaterial = material === '' ? null : by(own.filter((e) => e.material === material));
  if (ofMaterial) return { ...ofMaterial, material };
  const all = by(own);
  return all && { ...all, material: '' };
}

/** Standard deviation of the logarithm of a time, from where nine of ten lie. */
export const spreadOf = (calibration: Calibration | null): number =>
  calibration ? Math.log(calibration.high / calibration.factor) / 1.645 : 0;
