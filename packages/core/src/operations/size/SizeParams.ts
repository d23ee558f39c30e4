import { IsIn, IsOptional } from 'class-validator';
import type { Reading } from '../../measuring/readings.ts';
import { IsFactor, IsFactorTriple, IsLengthMm, IsMm, IsPercentBelow, IsPositiveTriple, IsReadings } from '../checks.ts';

export const axes = ['x', 'y', 'z'] as const;
export type Axis = (typeof axes)[number];

/**
 * One way at a time: `factor`; `axis` with `to`; `measured` with `real`; `readings`; `ratio` with `original` and perhaps
 * `axis`; `bed` with perhaps `margin`; `stretch`. `shrinkage` comes on top of any.
 */
export class SizeParams {
  @IsOptional()
  @IsFactor()
  factor?: number;

  @IsOptional()
  @IsIn(axes)
  axis?: Axis;

  /** Size wanted along `axis`, mm. */
  @IsOptional()
  @IsLengthMm()
  to?: number;

  /** A length as it is on the model now, mm. */
  @IsOptional()
  @IsLengthMm()
  measured?: number;

  /** The same length as it should be, mm. */
  @IsOptional()
  @IsLengthMm()
  real?: number;

  /** Several lengths as they are and as they should be, mm; their factors are averaged. */
  @IsOptional()
  @IsReadings()
  readings?: Reading[];

  /** Model to original, such as 1/6. */
  @IsOptional()
  @IsFactor()
  ratio?: number;

  /** Length of the original along `axis`, or along the longest side, mm. */
  @IsOptional()
  @IsLengthMm()
  original?: number;

  /** Room x, y, z of a printer that the whole is to fill, mm. */
  @IsOptional()
  @IsPositiveTriple()
  bed?: [number, number, number];

  /** Kept free at each side of the bed and on top, mm. */
  @IsOptional()
  @IsMm()
  margin?: number;

  /** A factor for each axis. */
  @IsOptional()
  @IsFactorTriple()
  stretch?: [number, number, number];

  /** By how much the material shrinks as it cools or cures, percent; the model is made larger by as much. */
  @IsOptional()
  @IsPercentBelow(50)
  shrinkage?: number;

  /** The same along z, where it differs. */
  @IsOptional()
  @IsPercentBelow(50)
  shrinkageZ?: number;
}
