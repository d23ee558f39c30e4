import { fixed, countOf, sizeText, type Speaker } from '../../words/numbers.ts';
import { Param, saysLength } from '../../params/Param.ts';
import { type Axis, axes } from '../../mesh/axes.ts';
import { IsIn, IsOptional } from 'class-validator';
import type { Reading, Averaged } from '../../measuring/readings.ts';
import {
  IsFactor,
  IsFactorTriple,
  IsLengthMm,
  IsMm,
  IsPercentBelow,
  IsPositiveTriple,
  IsReadings,
} from '../../params/checks.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { describe } from '../Description.ts';

/**
 * One way at a time: `factor`; `axis` with `to`; `measured` with `real`; `readings`; `ratio` with `original` and perhaps
 * `axis`; `bed` with perhaps `margin`; `stretch`. `shrinkage` comes on top of any.
 */
export class SizeParams {
  @Param('by this factor, such as 4, 400%, +5% or 1:6', { says: (f: number) => `×${Number(f.toPrecision(6))}` })
  @IsOptional()
  @IsFactor()
  factor?: number;

  @Param('the axis that is meant', { says: (a: Axis) => `along ${a}`, flag: null })
  @IsOptional()
  @IsIn(axes)
  axis?: Axis;

  @Param('size wanted along the axis', { says: saysLength('to'), flag: null })
  @IsOptional()
  @IsLengthMm()
  to?: number;

  @Param('a length as it is on the model', { says: saysLength('what measures') })
  @IsOptional()
  @IsLengthMm()
  measured?: number;

  @Param('the same length as it should be', { says: saysLength('is really') })
  @IsOptional()
  @IsLengthMm()
  real?: number;

  @Param('several lengths as they are and as they should be; their factors are averaged', {
    says: (r: unknown[]) => countOf(r.length, 'reading'),
    flag: null,
  })
  @IsOptional()
  @IsReadings()
  readings?: Reading[];

  @Param('model to original, such as 1:6', {
    says: (r: number) => (r < 1 ? `1 : ${Number((1 / r).toPrecision(4))}` : `${Number(r.toPrecision(4))} : 1`),
  })
  @IsOptional()
  @IsFactor()
  ratio?: number;

  @Param('length of the original along the axis, or along the longest side', { says: saysLength('of an original of') })
  @IsOptional()
  @IsLengthMm()
  original?: number;

  @Param('room of a printer that the whole is to fill in any pose', {
    says: (b: number[], { length }: Speaker) => `bed ${b.map((x) => length(x)).join(' × ')}`,
    flag: 'fill-bed',
  })
  @IsOptional()
  @IsPositiveTriple()
  bed?: [number, number, number];

  @Param('kept free at each side of that bed and on top', {
    says: (mm: number, { length }: Speaker) => (mm > 0 ? `${length(mm)} kept free` : null),
  })
  @IsOptional()
  @IsMm()
  margin?: number;

  @Param('a factor for each axis', { says: (f: number[]) => `×${f.map((x) => fixed(x, 2)).join(' × ')}` })
  @IsOptional()
  @IsFactorTriple()
  stretch?: [number, number, number];

  @Param('by how much the material shrinks as it cools or cures, percent; made up for on top', {
    says: (p: number) => (p > 0 ? `${Number(p.toPrecision(3))} % shrinkage made up for` : null),
  })
  @IsOptional()
  @IsPercentBelow(50)
  shrinkage?: number;

  @Param('the same along z, where it differs')
  @IsOptional()
  @IsPercentBelow(50)
  shrinkageZ?: number;
}

export interface SizeReport {
  factor: Xyz;
  before: Xyz;
  size: Xyz;
  volumeFactor: number;
  /** what it measures once the material has shrunk; the same as `size` when no shrinkage was given */
  cooled: Xyz;
  /** largest of the three factors to the smallest: a round thing becomes an oval of this ratio; 1 keeps it round */
  oval: number;
  /** of several readings */
  averaged: Averaged | null;
}

export const description = describe<'size', SizeParams, SizeReport>({
  name: 'size',
  version: 2,
  makes: 'skin',
  takes: 'mesh',
  stop: 'size',
  leads: true,
  shows: 'skin',
  params: SizeParams,
  kept(r) {
    const { x, y, z } = r.factor!;
    const oval = Math.max(x, y, z) / Math.min(x, y, z);
    return { cooled: r.size, oval, averaged: null, ...r } as SizeReport;
  },
  words: {
    summary: 'Scales a mesh to its real size',
    example: 'jasmorphe size ammonite.stl -o large.stl --to z=900',
    title: 'Size',
    done: 'Sized',
    button: 'Size it',
    figure: (_, { factor }) =>
      factor.x === factor.y && factor.y === factor.z
        ? `×${fixed(factor.x, factor.x >= 10 ? 1 : 2)}`
        : `×${[factor.x, factor.y, factor.z].map((f) => fixed(f, 2)).join(' ')}`,
    replays: (p, { length }) =>
      p.factor
        ? `size keeps its factor of ${Number(p.factor.toPrecision(6))}`
        : p.to
          ? `size keeps ${length(p.to)} along ${p.axis}`
          : p.bed
            ? 'size fills the same bed'
            : 'size keeps its ways and figures',
    rows: [
      {
        label: 'Factor',
        of: ({ factor }) =>
          `×${[...new Set([factor.x, factor.y, factor.z])].map((f) => Number(f.toPrecision(6))).join(' × ')}`,
      },
      { label: 'Before', of: (r, { length }) => sizeText(r.before, length) },
      { label: 'Now', of: (r, { length }) => sizeText(r.size, length) },
      {
        label: 'Once cooled',
        of: (r, { length }) => (r.cooled.x === r.size.x && r.cooled.z === r.size.z ? '—' : sizeText(r.cooled, length)),
        method: 'after the shrinkage given',
      },
      { label: 'Volume', of: (r) => `×${Number(r.volumeFactor.toPrecision(4))}` },
    ],
    says: (r) =>
      r.oval > 1
        ? `Round things become ovals of ${fixed(r.oval, 2)} to 1.`
        : r.averaged && r.averaged.spreadPct > 0
          ? `The readings differ by ${fixed(r.averaged.spreadPct, 1)} %.`
          : '',
    fileWord: 'sized',
  },
});
