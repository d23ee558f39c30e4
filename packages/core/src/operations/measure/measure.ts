import { IsIn, IsOptional } from 'class-validator';
import { measureKinds, measureOn, type Measured, type MeasureKind } from '../../measuring/measure.ts';
import { IsTriples } from '../checks.ts';
import type { Operation } from '../Operation.ts';
import { axes, type Axis } from '../size/SizeParams.ts';

export class MeasureParams {
  @IsOptional()
  @IsIn(measureKinds)
  kind: MeasureKind = 'points';

  /** Points on the model, mm. */
  @IsTriples(1, 3)
  at: [number, number, number][];

  /** Measured along it, or square to it for a girth. */
  @IsOptional()
  @IsIn(axes)
  axis: Axis = 'z';
}

/** Measures one length. */
export const measure: Operation<MeasureParams, Measured> = {
  name: 'measure',
  version: 1,
  summary: 'Measures a length on a model between points',
  params: MeasureParams,
  study: true,
  async run([mesh], { kind, at, axis }) {
    return { outputs: [], report: measureOn(mesh, kind, at, axes.indexOf(axis) as 0 | 1 | 2) };
  },
};
