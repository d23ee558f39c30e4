import { IsNumber, IsOptional, Max, Min } from 'class-validator';
import { Param } from '../../params/Param.ts';
import { figures } from '../../trade/figures.ts';
import { fixed } from '../../words/numbers.ts';
import { describe } from '../Description.ts';

export class TraitsParams {
  @Param('skin that leans out more than this from upright hangs over, degrees')
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(0)
  @Max(90)
  overhangDeg: number = figures.overhangDeg.value;
}

/** What a piece asks of a printer, standing as its file has it. */
export interface TraitsReport {
  /** skin that hangs over, but for what lies on the bed */
  overhangMm2: number;
  overhangPct: number;
  /** length of edges sharper than 30 degrees */
  sharpEdgeMm: number;
  /** skin per length of sharp edge: how far apart details stand; null where there are none */
  detailMm: number | null;
}

export const description = describe<'traits', TraitsParams, TraitsReport>({
  name: 'traits',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: null,
  study: true,
  shows: 'nothing',
  params: TraitsParams,
  words: {
    summary: 'Tells how fine a model is and how much of it hangs over: what to print first as a test',
    example: 'jasmorphe traits kit/*.stl',
    title: 'Fineness and overhang',
    done: 'Looked over',
    button: 'Look it over',
    rows: [
      {
        label: 'Overhang',
        method: 'skin that leans out, but for the foot',
        of: (r, { area }) => `${area(r.overhangMm2)}, ${fixed(r.overhangPct, 1)} %`,
      },
      {
        label: 'Detail',
        method: 'skin per length of sharp edge',
        of: (r, { length }) => (r.detailMm === null ? 'none' : `an edge every ${length(r.detailMm)}`),
      },
    ],
  },
});
