import { fixed } from '../../words/numbers.ts';
import type { BedFit } from '../../planning/bedFit.ts';
import { Param } from '../../params/Param.ts';
import { IsOptional } from 'class-validator';
import { IsMm, IsPositiveTriple } from '../../params/checks.ts';
import { describe } from '../Description.ts';

export class FitParams {
  @Param('room of the printer')
  @IsPositiveTriple()
  bed: [number, number, number];

  @Param('kept free at each side and on top')
  @IsOptional()
  @IsMm()
  margin: number = 0;
}

export const description = describe<'fit', FitParams, BedFit>({
  name: 'fit',
  version: 1,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'size',
  study: true,
  shows: 'nothing',
  params: FitParams,
  words: {
    summary: 'Turns a mesh in the room of a printer',
    example: 'jasmorphe fit carnyx.stl --bed 220x220x250 --margin 5',
    title: 'Fit',
    done: 'Turned on the bed',
    button: 'Turn it',
    rows: [
      { label: 'Fits', of: (r) => (r.fits ? 'yes' : 'no'), method: '3 000 poses, then a climb from the best' },
      { label: 'Largest factor', of: (r) => `×${fixed(r.largestFactor, 3)}`, method: 'in any pose' },
      { label: 'Turned flat', of: (r) => `×${fixed(r.flatFactor, 3)}`, method: 'about the vertical only' },
    ],
  },
});
