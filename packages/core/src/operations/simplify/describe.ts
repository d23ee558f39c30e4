import { whole } from '../../words/numbers.ts';
import { Param, saysLength } from '../../params/Param.ts';
import { IsInt, IsOptional, Max, Min } from 'class-validator';
import type { Deviation } from '../../mesh/deviation.ts';
import { IsLengthMm } from '../../params/checks.ts';
import { describe, type Proven } from '../Description.ts';

export class SimplifyParams {
  @Param('how far the surface may move; a five-thousandth of the diagonal if neither this nor triangles is given', {
    says: saysLength('within'),
  })
  @IsOptional()
  @IsLengthMm()
  tolerance?: number;

  @Param('triangles wanted instead; the tolerance that takes is then stated', {
    says: (n: number) => `to ${whole(n)} triangles`,
  })
  @IsOptional()
  @IsInt()
  @Min(4)
  @Max(20_000_000)
  triangles?: number;
}

export interface SimplifyReport {
  trianglesBefore: number;
  trianglesAfter: number;
  deviation: Deviation;
  /** was a sound solid, and is one still */
  sound: boolean;
  note: string;
}

export const description = describe<'simplify', SimplifyParams, SimplifyReport & Proven>({
  name: 'simplify',
  version: 3,
  makes: 'skin',
  takes: 'mesh',
  stop: 'mend',
  proves: true,
  shows: 'skin',
  params: SimplifyParams,
  words: {
    summary: 'Takes triangles out within a tolerance',
    example: 'jasmorphe simplify scan.ply -o light.stl --tolerance 0.1',
    title: 'Simplify',
    done: 'Simplified',
    button: 'Simplify',
    figure: (_, r) => whole(r.trianglesAfter),
    rows: [
      { label: 'Triangles', of: (r) => whole(r.trianglesAfter) },
      { label: 'of', of: (r) => whole(r.trianglesBefore) },
      { label: 'Deviation, worst', of: (r, { length }) => length(r.deviation.maxMm) },
      { label: 'typical', of: (r, { length }) => length(r.deviation.meanMm) },
      { label: 'Valid solid', of: (r) => (r.sound ? 'yes' : 'no') },
    ],
    says: (r) => r.note,
    fileWord: 'simplified',
  },
});
