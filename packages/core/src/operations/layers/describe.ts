import { IsOptional } from 'class-validator';
import { stageFinding } from '../../inspect/stageFinding.ts';
import { IsMm, IsLengths, IsTriples } from '../../params/checks.ts';
import { Param } from '../../params/Param.ts';
import type { Insert } from '../../planning/layers/insertAt.ts';
import type { Pause } from '../../planning/layers/layerBounds.ts';
import type { VariableHeights } from '../../planning/layers/variableHeights.ts';
import type { Island } from '../../section/layers.ts';
import { fixed, secondsText, whole } from '../../words/numbers.ts';
import { describe } from '../Description.ts';
import { LyingParams } from '../lying.ts';

export class LayersParams extends LyingParams {
  @Param('heights at which the print is to stop, such as for another colour', { flag: null })
  @IsOptional()
  @IsLengths(20)
  pauses?: number[];

  @Param('a place in a hollow into which something is put while it is printed', { flag: 'insert' })
  @IsOptional()
  @IsTriples(0, 20)
  inserts?: [number, number, number][];

  @Param('height of what is put in')
  @IsOptional()
  @IsMm()
  insertHeight: number = 0;
}

/** A run of layers that are laid too soon one after the other. */
export interface FastRun {
  fromLayer: number;
  toLayer: number;
  fromMm: number;
  toMm: number;
  /** time of the fastest of them, s */
  leastS: number;
}

export interface LayersReport {
  kind: 'filament' | 'resin';
  layerMm: number;
  heightMm: number;
  layers: number;
  /** layers that are told, evenly over all of them: middle above the bed, area, outline and time of each */
  shown: { layer: number; zMm: number; areaMm2: number; perimeterMm: number; durationS: number }[];
  maxAreaMm2: number;
  /** the largest growths from one layer to the next */
  jumps: { layer: number; zMm: number; byMm2: number }[];
  islands: Island[];
  fast: FastRun[];
  variable: VariableHeights | null;
  pauses: (Pause | null)[];
  inserts: (Insert | null)[];
}

export const description = describe<'layers', LayersParams, LayersReport>({
  name: 'layers',
  version: 2,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'layout',
  study: true,
  shows: 'nothing',
  params: LayersParams,
  findings: {
    at: ['layout'],
    of: (_, r) => [
      ...r.fast.map((f) => stageFinding('too-fast', 'attention', { ...f }, { name: `${f.fromLayer}` })),
      ...r.inserts.flatMap((insert, i) =>
        insert && insert.standsOutMm !== null && insert.standsOutMm > 1e-6
          ? [stageFinding('stands-out', 'failure', { byMm: insert.standsOutMm }, { name: `${i}` })]
          : [],
      ),
    ],
  },
  words: {
    summary: 'Looks through the layers of a part: areas, jumps, what is laid too fast, pauses and heights',
    example: 'jasmorphe layers B3.stl --printer longbed.json --pause 12.5',
    title: 'Layers',
    done: 'Layers looked through',
    button: 'Look through the layers',
    rows: [
      { label: 'Layers', of: (r, { length }) => `${whole(r.layers)} of ${length(r.layerMm)}` },
      { label: 'Largest', of: (r, { area }) => area(r.maxAreaMm2) },
      {
        label: 'Largest jump',
        of: (r, { length, area }) =>
          r.jumps.length === 0 ? 'none' : `${area(r.jumps[0].byMm2)} at ${length(r.jumps[0].zMm)}`,
        method: 'by how much a layer is larger than the one below it',
      },
      { label: 'In mid-air', of: (r) => whole(r.islands.length), method: 'areas that start with nothing under them' },
      {
        label: 'Too fast',
        of: (r) =>
          r.fast.length === 0 ? 'none' : `${whole(r.fast.reduce((n, f) => n + f.toLayer - f.fromLayer + 1, 0))} layers`,
        method: 'laid in less time than they take to set',
        bad: (r) => r.fast.length > 0,
        when: (r) => r.kind === 'filament',
      },
      {
        label: 'Heights by slope',
        of: (r) =>
          r.variable === null
            ? 'no gain'
            : `${secondsText(Math.abs(r.variable.evenS - r.variable.durationS))} ${r.variable.durationS <= r.variable.evenS ? 'saved' : 'more'}, steps ${fixed(r.variable.stepMm, 2)} for ${fixed(r.variable.evenStepMm, 2)} mm`,
        method: 'thin where the skin leans, thick where it stands upright: no step higher than a slope of 45° has now',
      },
    ],
    table: {
      heads: ['From', 'To', 'Layer'],
      rows: (r, { length }) =>
        (r.variable?.zones ?? []).map((z) => [length(z.fromMm), length(z.toMm), length(z.layerMm)]),
    },
  },
});
