import { useState } from 'react';
import { averageReadings } from '@jasmorphe/core/measuring/readings';
import type { Axis } from '@jasmorphe/core/mesh/axes';
import type { Xyz, Triple } from '@jasmorphe/core/mesh/TriMesh';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { SizeParams } from '@jasmorphe/core/operations/size/describe';
import { isFactor } from '@jasmorphe/core/params/checks';
import { figures } from '@jasmorphe/core/trade/figures';
import { useParamsForm, type ParamsForm } from '../../forms/useParamsForm.ts';
import type { TakenReading } from './Readings.tsx';
import { wayOf, type SizeKept, type Way } from './ways.ts';

/** What the fields of the size card begin with, whichever way is shown. */
const begun = (old: SizeKept, now: Xyz, longest: Axis, scaled: number): Partial<SizeParams> => ({
  axis: old.axis ?? longest,
  to: old.to ?? now[old.axis ?? longest],
  factor: old.factor ?? scaled,
  measured: 10,
  real: 10,
  ratio: old.ratio ?? 1 / 6,
  original: old.original ?? figures.personMm.value,
  margin: old.margin ?? figures.bedMarginMm.value,
  stretch: old.stretch ?? [1, 1, 1],
  shrinkage: old.shrinkage ?? 0,
});

const readingsOf = (old: SizeKept): TakenReading[] =>
  (old.readings ?? (old.measured && old.real ? [{ measured: old.measured, real: old.real }] : [])).map((r) => ({
    ...r,
    says: 'measured earlier',
    lines: [],
  }));

export interface SizeChoice {
  way: Way;
  setWay: (way: Way) => void;
  longest: Axis;
  form: ParamsForm<SizeParams>;
  /** all that stands in the fields */
  fields: Required<Omit<SizeParams, 'bed' | 'readings' | 'shrinkageZ'>>;
  readings: TakenReading[];
  setReadings: (readings: TakenReading[]) => void;
  /** factors of the three axes; null while what they follow from is not known */
  factors: (filling: number | null, fitting: number | null) => Triple | null;
  /** parameters of the size operation, without shrinkage */
  params: (bed: Triple, triple: Triple | null) => SizeKept;
}

/**
 * The fields of the size card and the factor that follows from them.
 *
 * @param before size before the step, mm
 * @param now size now, mm
 * @param scaled factor that the step in force has
 */
export function useSizeChoice(old: SizeKept, before: Xyz, now: Xyz, scaled: number): SizeChoice {
  const [way, setWay] = useState<Way>(wayOf(old));
  const longest: Axis = before.z >= before.x && before.z >= before.y ? 'z' : before.x >= before.y ? 'x' : 'y';
  const form = useParamsForm(catalogue.size.params, begun(old, now, longest, scaled));
  const [readings, setReadings] = useState(() => readingsOf(old));
  const fields = form.values as SizeChoice['fields'];
  const { axis, to, factor, measured, real, ratio, original, margin, stretch } = fields;
  return {
    way,
    setWay,
    longest,
    form,
    fields,
    readings,
    setReadings,
    factors(filling, fitting) {
      if (way === 'stretch') return stretch;
      const even = {
        factor,
        dimension: to / before[axis],
        measured: readings.length > 0 ? averageReadings(readings).factor : real / measured,
        ratio: (ratio * original) / before[axis],
        bed: filling,
        body: fitting,
      }[way];
      return even !== null && isFactor(even) ? [even, even, even] : null;
    },
    params(bed, triple) {
      switch (way) {
        case 'factor':
          return { factor };
        case 'dimension':
          return { axis, to };
        case 'measured':
          return readings.length > 0
            ? { readings: readings.map((r) => ({ measured: r.measured, real: r.real })) }
            : { measured, real };
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
