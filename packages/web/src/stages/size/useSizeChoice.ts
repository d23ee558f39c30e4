import { useState } from 'react';
import { averageReadings } from '@jasmorphe/core/measuring/readings';
import type { Axis } from '@jasmorphe/core/mesh/axes';
import type { Xyz } from '@jasmorphe/core/mesh/TriMesh';
import { figures } from '@jasmorphe/core/trade/figures';
import type { TakenReading } from './Readings.tsx';
import { wayOf, type SizeKept, type Way } from './ways.ts';

type Triple = [number, number, number];

/** What stands in the fields of the size card, whichever way is shown. */
export interface SizeFields {
  axis: Axis;
  /** mm along that axis */
  to: number;
  factor: number;
  readings: TakenReading[];
  typed: { measured: number; real: number };
  ratio: number;
  /** mm */
  original: number;
  /** mm kept free at each side of the bed */
  margin: number;
  stretch: Triple;
}

/**
 * The fields of the size card and the factor that follows from them.
 *
 * @param before size before the step, mm
 * @param now size now, mm
 * @param scaled factor that the step in force has
 */
export function useSizeChoice(old: SizeKept, before: Xyz, now: Xyz, scaled: number) {
  const [way, setWay] = useState<Way>(wayOf(old));
  const longest: Axis = before.z >= before.x && before.z >= before.y ? 'z' : before.x >= before.y ? 'x' : 'y';
  const [fields, setFields] = useState<SizeFields>(() => ({
    axis: old.axis ?? longest,
    to: old.to ?? now[old.axis ?? longest],
    factor: old.factor ?? scaled,
    readings: (old.readings ?? (old.measured && old.real ? [{ measured: old.measured, real: old.real }] : [])).map(
      (r) => ({ ...r, says: 'measured earlier', lines: [] }),
    ),
    typed: { measured: 10, real: 10 },
    ratio: old.ratio ?? 1 / 6,
    original: old.original ?? 1750,
    margin: old.margin ?? figures.bedMarginMm.value,
    stretch: old.stretch ?? [1, 1, 1],
  }));
  const { axis, to, factor, readings, typed, ratio, original, margin, stretch } = fields;
  return {
    way,
    setWay,
    longest,
    fields,
    set: (next: Partial<SizeFields>) => setFields((f) => ({ ...f, ...next })),
    /**
     * Factors of the three axes; null while what they follow from is not known.
     *
     * @param filling the largest that fits the bed
     * @param fitting the one that fits the body
     */
    factors(filling: number | null, fitting: number | null): Triple | null {
      if (way === 'stretch') return stretch;
      const even = {
        factor,
        dimension: to / before[axis],
        measured: readings.length > 0 ? averageReadings(readings).factor : typed.real / typed.measured,
        ratio: (ratio * original) / before[axis],
        bed: filling,
        body: fitting,
      }[way];
      return even === null ? null : [even, even, even];
    },
    /** Parameters of the size operation, without shrinkage. */
    params(bed: Triple, triple: Triple | null): SizeKept {
      switch (way) {
        case 'factor':
          return { factor };
        case 'dimension':
          return { axis, to };
        case 'measured':
          return readings.length > 0 ? { readings: readings.map(({ measured, real }) => ({ measured, real })) } : typed;
        case 'ratio':
          return { ratio, original, axis };
        case 'body':
          return { factor: Number((triple?.[0] ?? 1).toPrecision(6)) };
        case 'bed':
          return { bed, margin };
        case 'stretch':
          return { stretch };
      }
    },
  };
}
