import { fixed, whole } from '../../words/numbers.ts';
import { Param, saysLength } from '../../params/Param.ts';
import { IsIn, IsOptional } from 'class-validator';
import type { Deviation } from '../../mesh/deviation.ts';
import { figures } from '../../trade/figures.ts';
import { IsLengthMm } from '../../params/checks.ts';
import { growSides, type GrowSide } from './midSurface.ts';
import { describe, type Proven } from '../Description.ts';

export class ThickenParams {
  @Param('what walls shall measure at least', { says: saysLength('walls of at least') })
  @IsOptional()
  @IsLengthMm()
  min: number = figures.thinWallMm.value;

  @Param('where they grow', { says: (s: GrowSide) => (s === 'both' ? null : `grown ${s}`) })
  @IsOptional()
  @IsIn(growSides)
  side: GrowSide = 'both';
}

export interface ThickenReport {
  minMm: number;
  /** share of the skin under which the wall was and is thinner than that, percent */
  thinBeforePct: number;
  thinAfterPct: number;
  /** the same as area, mm2, both sides of a wall counted */
  thinAreaBeforeMm2: number;
  thinAreaAfterMm2: number;
  volumeMm3: number;
  addedMm3: number;
  deviation: Deviation;
  trianglesBefore: number;
  trianglesAfter: number;
  /** edge of the grid from which the growth was taken, mm */
  detailMm: number;
  note: string;
}

export const description = describe<'thicken', ThickenParams, ThickenReport & Proven>({
  name: 'thicken',
  version: 2,
  makes: 'skin',
  takes: 'mesh',
  stop: 'size',
  proves: true,
  shows: 'skin',
  params: ThickenParams,
  words: {
    summary: 'Grows walls that are thinner than a least thickness, and only those',
    example: 'jasmorphe thicken mask.stl -o thicker.stl --min 1.2 --side outward',
    title: 'Thicken',
    done: 'Thickened',
    button: 'Thicken',
    figure: (_, r, { length }) => `to ${length(r.minMm)}`,
    replays: ({ min }, { length }) => `walls are grown to ${length(min)} again`,
    rows: [
      { label: 'Thin skin before', of: (r) => `${fixed(r.thinBeforePct, 1)} %` },
      { label: 'after', of: (r) => `${fixed(r.thinAfterPct, 1)} %` },
      { label: 'Material added', of: (r, { volume }) => volume(r.addedMm3) },
      { label: 'Deviation, worst', of: (r, { length }) => length(r.deviation.maxMm) },
      { label: 'Triangles', of: (r) => whole(r.trianglesAfter) },
    ],
    says: (r) => r.note,
    fileWord: 'thickened',
  },
});
