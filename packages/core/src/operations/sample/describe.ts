import { fixed, sizeText } from '../../words/numbers.ts';
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
    example: 'jasmorphe sample mask.stl -o test.stl --largest 40',
    title: 'Test piece',
    done: 'Cut as a test piece',
    button: 'Make the test piece',
    rows: [
      {
        label: 'Test piece',
        of: (r) => (r.kind === 'small' ? `a copy at ×${Number(r.factor.toPrecision(4))}` : 'a region at full size'),
      },
      { label: 'Size', of: (r, { length }) => sizeText(r.size, length) },
      { label: 'Volume', of: (r, { volume }) => volume(r.volumeMm3) },
      { label: 'of the whole', of: (r) => `${fixed(r.sharePct, 1)} %`, method: 'at full size' },
    ],
    fileWord: 'test',
  },
});
