import { pairsText } from '../../mesh/crossingCount.ts';
import { whole } from '../../words/numbers.ts';
import { Param, saysLength } from '../../params/Param.ts';
import { IsNumber, IsOptional, Max, Min } from 'class-validator';
import type { Deviation } from '../../mesh/deviation.ts';
import { figures } from '../../trade/figures.ts';
import { IsLengthMm } from '../../params/checks.ts';
import { describe, type Proven } from '../Description.ts';

export class RefineParams {
  @Param('how far flats may stand off the curve at the size it has now', { says: saysLength('within') })
  @IsOptional()
  @IsLengthMm()
  tolerance: number = figures.facetMm.value;

  @Param('edges folded more sharply than this stay creases, degrees')
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(1)
  @Max(120)
  crease: number = figures.creaseDeg.value;
}

export interface RefineReport {
  trianglesBefore: number;
  trianglesAfter: number;
  /** how far flats stood off the curve, mm, before and after */
  chordErrorBeforeMm: number;
  chordErrorAfterMm: number;
  rounds: number;
  deviation: Deviation;
  selfIntersectingPairs: number;
  note: string;
}

export const description = describe<'refine', RefineParams, RefineReport & Proven>({
  name: 'refine',
  version: 2,
  makes: 'skin',
  takes: 'mesh',
  stop: 'mend',
  proves: true,
  reopens: true,
  shows: 'skin',
  params: RefineParams,
  words: {
    summary: 'Divides facets towards a curved surface, creases kept',
    example: 'jasmorphe refine coarse.obj -o smooth.stl --tolerance 0.05',
    title: 'Refine',
    done: 'Refined',
    button: 'Refine',
    figure: (_, r) => whole(r.trianglesAfter),
    rows: [
      { label: 'Triangles', of: (r) => whole(r.trianglesAfter) },
      {
        label: 'Facets stood off',
        of: (r, { length }) => length(r.chordErrorBeforeMm),
        method: 'farthest of edges from the curve through their normals',
      },
      { label: 'stand off now', of: (r, { length }) => length(r.chordErrorAfterMm) },
      { label: 'Deviation, worst', of: (r, { length }) => length(r.deviation.maxMm) },
      { label: 'Crossings', of: (r) => pairsText(r.selfIntersectingPairs) },
    ],
    says: (r) => r.note,
    fileWord: 'refined',
  },
});
