import { MeshError } from '../run/MeshError.ts';

/** A length as it is on the model and as it should be, mm. */
export interface Reading {
  measured: number;
  real: number;
}

export interface ReadingVerdict {
  factor: number;
  /** how far from the middle one of the others, percent of it */
  offPct: number;
  /** stands out from the others: probably a slip */
  suspect: boolean;
}

export interface Averaged {
  /** mean of the factors that the readings ask for */
  factor: number;
  /** standard deviation of those factors, percent of the mean; 0 for a single reading */
  spreadPct: number;
  /** the same two without the readings that stand out; null when none does */
  without: { factor: number; spreadPct: number } | null;
  each: ReadingVerdict[];
}

/** A reading nearer to the others than this is never a slip: callipers and fingers are not better. Common practice. */
const slipPct = 3;

function middle(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const n = sorted.length;
  return n % 2 === 1 ? sorted[(n - 1) / 2] : (sorted[n / 2 - 1] + sorted[n / 2]) / 2;
}

function meanOf(values: number[]): { factor: number; spreadPct: number } {
  const factor = values.reduce((a, b) => a + b, 0) / values.length;
  const square = values.reduce((a, b) => a + (b - factor) ** 2, 0) / Math.max(1, values.length - 1);
  return { factor, spreadPct: (100 * Math.sqrt(square)) / factor };
}

/**
 * The factor that several measured lengths ask for, with their spread. A reading stands out when it is farther than
 * 3 % and than four median deviations from the middle of the others (the median deviation is not moved by the slip it
 * is to find: Hampel 1974). Of two readings neither can be told to be the wrong one: both stand out.
 *
 * @throws MeshError `bad-params` when there is none, or a length is not above zero
 */
export function averageReadings(readings: readonly Reading[]): Averaged {
  if (readings.length === 0)
    throw new MeshError('bad-params', 'No measured length was given.', 'Measure one on the model.', 'readings');
  readings.forEach(({ measured, real }, i) => {
    if (!(measured > 0) || !Number.isFinite(measured))
      throw new MeshError(
        'bad-params',
        `Reading ${i + 1} has no length on the model.`,
        'Its points fall together: pick two that stand apart.',
        'readings',
      );
    if (!(real > 0) || !Number.isFinite(real))
      throw new MeshError('bad-params', `Reading ${i + 1} has no true length.`, 'Give one above zero.', 'readings');
  });
  const factors = readings.map((r) => r.real / r.measured);
  const each = factors.map((factor, i) => {
    const others = factors.filter((_, j) => j !== i);
    if (others.length === 0) return { factor, offPct: 0, suspect: false };
    const centre = middle(others);
    const off = Math.abs(factor - centre) / centre;
    const usual = middle(others.map((f) => Math.abs(f - centre) / centre));
    return { factor, offPct: 100 * off, suspect: 100 * off > slipPct && off > 4 * 1.4826 * usual };
  });
  const kept = factors.filter((_, i) => !each[i].suspect);
  return {
    ...meanOf(factors),
    without: kept.length > 0 && kept.length < factors.length ? meanOf(kept) : null,
    each,
  };
}
