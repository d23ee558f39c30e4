import { fixed, whole, type Speaker } from '../../words/numbers.ts';
import { Param, saysLength } from '../../params/Param.ts';
import { IsOptional } from 'class-validator';
import { figures } from '../../trade/figures.ts';
import { IsDirection, IsLengthMm, IsMm } from '../../params/checks.ts';
import { describe, type Proven } from '../Description.ts';

export class RecutParams {
  @Param('what stands on the bed, measured with calipers', { says: saysLength('stood') })
  @IsLengthMm()
  printed: number;

  @Param('layer height', { says: saysLength('layers of') })
  @IsOptional()
  @IsLengthMm()
  layer: number = figures.layerMm.value;

  @Param('first layer; as the others if left out', { says: saysLength('first layer') })
  @IsOptional()
  @IsLengthMm()
  firstLayer?: number;

  @Param('direction that was up on the printer', {
    says: ([x, y, z]: number[]) =>
      x === 0 && y === 0 && z > 0 ? null : `up along ${[x, y, z].map((c) => fixed(c, 2)).join(', ')}`,
  })
  @IsOptional()
  @IsDirection()
  up: [number, number, number] = [0, 0, 1];

  @Param('how far below the measured height the cut stays, to clear doubtful layers', {
    says: (mm: number, { length }: Speaker) => (mm > 0 ? `cut ${length(mm)} lower` : null),
  })
  @IsOptional()
  @IsMm()
  backOff: number = 0;
}

export interface RecutReport {
  /** height of the cut above the lowest point, on a layer boundary */
  cutAtMm: number;
  layersKept: number;
  remainingHeightMm: number;
  remainingVolumeMm3: number;
  contactAreaMm2: number;
  /** separate areas of the cut face, each glued by itself */
  islandsAtCut: number;
}

export const description = describe<'recut', RecutParams, RecutReport & Proven>({
  name: 'recut',
  version: 2,
  makes: 'skin',
  takes: 'mesh',
  stop: 'print',
  leads: true,
  proves: true,
  shows: 'skin',
  params: RecutParams,
  words: {
    summary: 'Keeps what is missing of a print that stopped at a measured height',
    example: 'jasmorphe recut B2.3mf -o rest.3mf --printed 47.3 --layer 0.2',
    title: 'Recut',
    done: 'Recut',
    button: 'Recut',
    figure: (_, r, { length }) => `at ${length(r.cutAtMm)}`,
    rows: [
      {
        label: 'Cut at',
        of: (r, { length }) => length(r.cutAtMm),
        method: 'on a layer boundary, above the lowest point',
      },
      { label: 'Layers kept', of: (r) => whole(r.layersKept) },
      { label: 'Still to print', of: (r, { length }) => length(r.remainingHeightMm) },
      { label: 'Volume', of: (r, { volume, liquid }) => volume(r.remainingVolumeMm3, liquid) },
      { label: 'Glue face', of: (r, { area }) => area(r.contactAreaMm2), method: 'area of the cut' },
      { label: 'in areas', of: (r) => whole(r.islandsAtCut), method: 'each is glued by itself' },
    ],
    fileWord: 'rest',
  },
});
