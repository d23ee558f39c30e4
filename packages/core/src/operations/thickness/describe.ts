import { stageFinding } from '../../inspect/stageFinding.ts';
import { fixed } from '../../words/numbers.ts';
import { Param } from '../../params/Param.ts';
import { IsOptional } from 'class-validator';
import type { Flats } from '../../inspect/facets.ts';
import type { Thickness } from '../../mesh/thickness.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { figures } from '../../trade/figures.ts';
import { IsFactor, IsLengthMm } from '../../params/checks.ts';
import { describe } from '../Description.ts';

export class ThicknessParams {
  @Param('walls thinner than this vanish or break')
  @IsOptional()
  @IsLengthMm()
  min: number = figures.thinWallMm.value;

  @Param('measured as if scaled by this')
  @IsOptional()
  @IsFactor()
  factor: number = 1;
}

export interface ThinPlace {
  at: Xyz;
  /** of one side of the wall, mm2 */
  areaMm2: number;
  leastMm: number;
  spanMm: number;
}

export interface ThicknessReport extends Thickness {
  /** skin that is thinner than the least thickness, mm2, both sides counted */
  thinAreaMm2: number;
  /** thin walls by place, the largest first; lengths as scaled, `at` where it is on the mesh as it stands */
  places: ThinPlace[];
  /** thickness as scaled, mm, of which 0, 1, 2 ... 100 % of the skin is thinner */
  quantilesMm: number[];
  /** deepest flat of what is meant to be round, as scaled; null where there is none */
  flats: Flats | null;
}

export const description = describe<'thickness', ThicknessParams, ThicknessReport>({
  name: 'thickness',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'size',
  study: true,
  shows: 'map',
  params: ThicknessParams,
  findings: {
    at: [],
    of: ({ min }, { places }) =>
      places.map((p) =>
        stageFinding(
          'thin-place',
          p.leastMm < min / 2 ? 'failure' : 'attention',
          { leastMm: p.leastMm, areaMm2: p.areaMm2, underMm: min },
          { at: p.at, spanMm: p.spanMm, sure: 'sampled', mends: ['thicken'] },
        ),
      ),
  },
  words: {
    summary: 'Measures walls and finds the thin ones',
    example: 'jasmorphe thickness mask.stl --min 1.2',
    title: 'Walls',
    done: 'Measured for walls',
    button: 'Measure the walls',
    rows: [
      { label: 'Thinnest', of: (r, { length }) => length(r.minMm), method: 'rays along the inward normal' },
      { label: '5 % are under', of: (r, { length }) => length(r.p05Mm) },
      { label: 'typical', of: (r, { length }) => length(r.medianMm) },
      {
        label: 'Thin skin',
        of: (r, { area }) =>
          r.belowMinAreaPct === null ? '—' : `${fixed(r.belowMinAreaPct, 1)} %, ${area(r.thinAreaMm2)}`,
        method: 'below the least wall given',
      },
    ],
    table: {
      heads: ['Thin at', 'Least', 'Across', 'Area'],
      rows: (r, { length, area }) =>
        r.places.map((p) => [
          [p.at.x, p.at.y, p.at.z].map((c) => fixed(c, 1)).join(', '),
          length(p.leastMm),
          length(p.spanMm),
          area(p.areaMm2),
        ]),
    },
  },
});
