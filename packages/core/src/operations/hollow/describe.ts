import { stageFinding } from '../../inspect/stageFinding.ts';
import { isUnsound, proofMethod, proofText } from '../proofWords.ts';
import { fixed, whole, countOf } from '../../words/numbers.ts';
import { Param, saysLength, saysWhen } from '../../params/Param.ts';
import { IsBoolean, IsInt, IsOptional, Max, Min } from 'class-validator';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { figures } from '../../trade/figures.ts';
import { IsDirection, IsLengthMm } from '../../params/checks.ts';
import { describe, type Proven } from '../Description.ts';

export class HollowParams {
  @Param('thickness of the wall', { says: saysLength('wall') })
  @IsLengthMm()
  wall: number;

  @Param('edge of a grid cube of the distance field; follows from the wall and the model if left out', {
    says: saysLength('detail'),
  })
  @IsOptional()
  @IsLengthMm()
  detail?: number;

  @Param('open the flat underside, so that the piece is a cup upside down', { says: saysWhen('underside open') })
  @IsOptional()
  @IsBoolean()
  openBase: boolean = false;

  @Param('diameter of drains', { says: saysLength('drains') })
  @IsOptional()
  @IsLengthMm()
  drain: number = figures.drainMm.value;

  @Param('drains for each cavity; 0 drills none', {
    says: (n: number) => (n > 0 ? `${countOf(n, 'drain')} a cavity` : null),
  })
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(8)
  drains: number = 0;

  @Param('direction that is up on the printer', {
    says: ([x, y, z]: number[]) =>
      x === 0 && y === 0 && z > 0 ? null : `up along ${[x, y, z].map((c) => fixed(c, 2)).join(', ')}`,
  })
  @IsOptional()
  @IsDirection()
  up: [number, number, number] = [0, 0, 1];

  @Param('also make a plug for each drain', { says: saysWhen('with plugs'), flag: null })
  @IsOptional()
  @IsBoolean()
  plugs: boolean = false;
}

export interface Drain {
  /** where the hole leaves the cavity, mm */
  at: Xyz;
  diameterMm: number;
}

export interface HollowReport {
  wall: { minMm: number; p05Mm: number; medianMm: number };
  cavities: { volumeMm3: number; drains: Drain[] }[];
  solidVolumeMm3: number;
  volumeMm3: number;
  savedPct: number;
  /** liquid that cannot run out in the pose given by `up` */
  trappedMm3: number;
  detailMm: number;
  /** plugs follow the shell in the outputs */
  plugs: number;
}

export const description = describe<'hollow', HollowParams, HollowReport & Proven>({
  name: 'hollow',
  version: 3,
  makes: 'skin',
  takes: 'mesh',
  stop: 'hollow',
  leads: true,
  proves: true,
  shows: 'skin',
  params: HollowParams,
  findings: {
    at: ['hollow', 'layout', 'print'],
    of(params, r) {
      // an open underside drains by itself
      const undrained = params.openBase
        ? 0
        : r.cavities.filter((c) => c.drains.length < figures.drainsPerCavity.value).length;
      return undrained === 0
        ? []
        : [stageFinding('undrained', 'note', { cavities: undrained }, { count: undrained, mends: ['hollow'] })];
    },
  },
  words: {
    summary: 'Hollows a solid to a wall, with drains and plugs',
    example: 'jasmorphe hollow mask.stl -o shell.stl --wall 3 --drain 4 --plugs plugs',
    title: 'Hollow',
    done: 'Hollowed',
    button: 'Hollow it',
    figure: ({ wall }, _, { length }) => length(wall),
    replays: ({ wall }, { length }) => `hollow keeps its wall of ${length(wall)}`,
    rows: [
      { label: 'Saved', of: (r) => `${fixed(r.savedPct, 1)} %` },
      { label: 'Material', of: (r, { volume, liquid }) => volume(r.volumeMm3, liquid) },
      { label: 'Solid', of: (r, { volume, liquid }) => volume(r.solidVolumeMm3, liquid), method: 'as it was before' },
      {
        label: 'Thinnest wall',
        of: (r, { length }) => length(r.wall.minMm),
        method: 'distance from the cavity to the outer skin, at every corner',
      },
      { label: 'typical', of: (r, { length }) => length(r.wall.medianMm) },
      { label: 'Cavities', of: (r) => whole(r.cavities.length) },
      { label: 'Drains', of: (r) => whole(r.cavities.reduce((n, c) => n + c.drains.length, 0)) },
      {
        label: 'Trapped liquid',
        of: (r, { volume, liquid }) => volume(r.trappedMm3, liquid ?? true),
        method: 'flood of a grid from the drains, in the pose given by up',
      },
      { label: 'Sound solid', of: (r) => proofText(r.proof), bad: isUnsound, method: proofMethod },
    ],
    fileWord: 'hollow',
  },
});
