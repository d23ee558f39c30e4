import { Param } from '../../params/Param.ts';
import { IsOptional } from 'class-validator';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { IsLengthMm, IsTriple } from '../../params/checks.ts';
import { describe, type Proven } from '../Description.ts';

/** Either `largest`, or `at` with `across`. */
export class SampleParams {
  @Param('longest side of a small copy')
  @IsOptional()
  @IsLengthMm()
  largest?: number;

  @Param('middle of a region at full size')
  @IsOptional()
  @IsTriple()
  at?: [number, number, number];

  @Param('side of the cube that is cut out around it')
  @IsOptional()
  @IsLengthMm()
  across?: number;
}

export interface SampleReport {
  kind: 'small' | 'region';
  factor: number;
  size: Xyz;
  volumeMm3: number;
  /** share of the whole model's volume at full size, percent */
  sharePct: number;
}

export const description = describe<'sample', SampleParams, SampleReport & Proven>({
  name: 'sample',
  version: 2,
  makes: 'model',
  takes: 'mesh',
  stop: 'size',
  proves: true,
  shows: 'skin',
  params: SampleParams,
  words: {
    summary: 'Makes a test piece: a small copy, or a region at full size',
    title: 'Test piece',
    done: 'Cut as a test piece',
    button: 'Make the test piece',
    fileWord: 'test',
  },
});
