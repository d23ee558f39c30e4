import { IsIn, IsOptional } from 'class-validator';
import { MeshError } from '../../mesh/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, xyz, type Vec3, type Xyz } from '../../mesh/TriMesh.ts';
import { IsFactor, IsFactorTriple, IsLengthMm } from '../checks.ts';
import type { Operation } from '../Operation.ts';

export const axes = ['x', 'y', 'z'] as const;
export type Axis = (typeof axes)[number];

/** One way at a time: `factor`, `axis` with `to`, `measured` with `real`, or `stretch`. */
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

  /** A factor for each axis. */
  @IsOptional()
  @IsFactorTriple()
  stretch?: [number, number, number];
}

export interface SizeReport {
  factor: Xyz;
  before: Xyz;
  size: Xyz;
  volumeFactor: number;
}

/**
 * Factors that the params ask for on a body of the size given.
 *
 * @throws MeshError `bad-params` when none or several ways are named, or the outcome is absurd
 */
export function sizeFactors(params: SizeParams, size: Vec3): Vec3 {
  const ways = [
    params.factor !== undefined,
    params.to !== undefined || params.axis !== undefined,
    params.measured !== undefined || params.real !== undefined,
    params.stretch !== undefined,
  ].filter(Boolean).length;
  if (ways !== 1)
    throw new MeshError(
      'bad-params',
      ways === 0 ? 'No size was given.' : 'More than one way to a size was given.',
      'Give a factor, or one dimension, or a measured and a real length, or a stretch.',
      'factor',
    );
  let factor: Vec3;
  if (params.stretch) factor = params.stretch;
  else {
    let f = params.factor ?? 1;
    if (params.axis !== undefined || params.to !== undefined) {
      if (params.axis === undefined || params.to === undefined)
        throw new MeshError(
          'bad-params',
          'A dimension needs both its axis and its length.',
          '',
          params.axis ? 'to' : 'axis',
        );
      const now = size[axes.indexOf(params.axis)];
      if (!(now > 0))
        throw new MeshError(
          'bad-params',
          `The model has no extent along ${params.axis}.`,
          'Size it along another axis.',
          'axis',
        );
      f = params.to / now;
    } else if (params.measured !== undefined || params.real !== undefined) {
      if (params.measured === undefined || params.real === undefined)
        throw new MeshError(
          'bad-params',
          'Give both the measured and the real length.',
          '',
          params.measured ? 'real' : 'measured',
        );
      f = params.real / params.measured;
    }
    factor = [f, f, f];
  }
  const largest = Math.max(...size.map((s, i) => s * factor[i]));
  if (!(largest <= 1e6) || !(largest >= 1e-3))
    throw new MeshError(
      'bad-params',
      `That makes the model ${largest.toPrecision(3)} mm across.`,
      'A size between 0.001 mm and 1 km is taken.',
      'factor',
    );
  return factor;
}

/** Scales about the origin. */
export const size: Operation<SizeParams, SizeReport> = {
  name: 'size',
  version: 1,
  summary: 'Scales a mesh to its real size',
  params: SizeParams,
  async run([mesh], params, context) {
    const before = sizeOf(boundsOf(mesh));
    const factor = sizeFactors(params, before);
    context.progress(0.5, 'Scaling');
    const out = scaleMesh(mesh, factor);
    return {
      outputs: [out],
      report: {
        factor: xyz(factor),
        before: xyz(before),
        size: xyz(sizeOf(boundsOf(out))),
        volumeFactor: factor[0] * factor[1] * factor[2],
      },
    };
  },
};
