import { whole } from '../../words/numbers.ts';
import { Param, saysLength } from '../../params/Param.ts';
import { IsIn, IsNumber, IsOptional } from 'class-validator';
import { axes, type Axis } from '../../mesh/axes.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { IsMm } from '../../params/checks.ts';
import { describe, type Proven } from '../Description.ts';

export class MirrorParams {
  @Param('axis square to the seam; found from the open edges if left out', {
    says: (a: string) => `along ${a}`,
    flag: null,
  })
  @IsOptional()
  @IsIn(axes)
  axis?: Axis;

  @Param('where the seam lies along the axis; found from the open edges if left out', {
    says: saysLength('seam at'),
    flag: null,
  })
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  at?: number;

  @Param('which side is kept and mirrored: above or below the seam; the larger one if left out')
  @IsOptional()
  @IsIn(['above', 'below'])
  keep?: 'above' | 'below';

  @Param('points this near to the seam are set on it')
  @IsOptional()
  @IsMm()
  weld?: number;
}

export interface MirrorReport {
  axis: Axis;
  atMm: number;
  /** points that lie on the seam and join both halves */
  seamVertices: number;
  /** open edges left, on the seam and elsewhere */
  openEdges: number;
  openLoops: number;
  size: Xyz;
}

export const description = describe<'mirror', MirrorParams, MirrorReport & Proven>({
  name: 'mirror',
  version: 2,
  makes: 'skin',
  takes: 'mesh',
  stop: 'mend',
  proves: true,
  reopens: true,
  shows: 'skin',
  params: MirrorParams,
  words: {
    summary: 'Mirrors half a model, with the seam welded',
    example: 'jasmorphe mirror half.stl -o whole.stl --at x=0',
    title: 'Mirror',
    done: 'Mirrored',
    button: 'Mirror',
    figure: (_, r) => `across ${r.axis}`,
    rows: [
      { label: 'Seam', of: (r, { length }) => `${r.axis} ${length(r.atMm)}` },
      { label: 'Points welded', of: (r) => whole(r.seamVertices) },
      { label: 'Open edges left', of: (r) => whole(r.openEdges) },
      { label: 'Width', of: (r, { length }) => length(r.size.x) },
      { label: 'Depth', of: (r, { length }) => length(r.size.y) },
    ],
    says: (r) => (r.openEdges === 0 ? 'The whole is closed.' : 'Some edges stay open; Mend closes them.'),
    fileWord: 'whole',
  },
});
