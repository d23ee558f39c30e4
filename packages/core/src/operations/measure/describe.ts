import type { Measurement } from '../../measuring/measure.ts';
import { Param } from '../../params/Param.ts';
import { IsIn, IsOptional } from 'class-validator';
import { measureKinds, type MeasureKind } from '../../measuring/measureKinds.ts';
import { IsTriples } from '../../params/checks.ts';
import { axes, type Axis } from '../../mesh/axes.ts';
import { describe } from '../Description.ts';

export class MeasureParams {
  @Param('what to measure')
  @IsOptional()
  @IsIn(measureKinds)
  kind: MeasureKind = 'points';

  @Param('a point on the model; repeat it for each point')
  @IsTriples(1, 3)
  at: [number, number, number][];

  @Param('measured along it, or square to it for a girth')
  @IsOptional()
  @IsIn(axes)
  axis: Axis = 'z';
}

export const description = describe<'measure', MeasureParams, Measurement>({
  name: 'measure',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'size',
  study: true,
  shows: 'nothing',
  params: MeasureParams,
  words: {
    summary: 'Measures a length on a model between points',
    example: 'jasmorphe measure mask.stl --at 0,0,0 --at 42,0,12',
    title: 'Measure',
    done: 'Measurement',
    button: 'Measure',
    rows: [{ label: 'Length', of: (r, { length }) => length(r.lengthMm) }],
    says: (r) => `${r.says.charAt(0).toUpperCase()}${r.says.slice(1)}.`,
  },
});
