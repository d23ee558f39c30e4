import { fixed, whole } from '../../words/numbers.ts';
import { Param } from '../../params/Param.ts';
import { IsBoolean, IsInt, IsNumber, IsOptional, Max, Min } from 'class-validator';
import { readInspection, type Inspection } from '../../inspect/Inspection.ts';
import type { ScanFlaws } from './standIn.ts';
import { describe } from '../Description.ts';

export class PracticeParams {
  @Param('from 0, a careful scan, to 1, a hopeless one', { says: (s: number) => `severity ${fixed(s, 2)}` })
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(0)
  @Max(1)
  severity: number = 0.5;

  @Param('another seed, another scan')
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(2 ** 31)
  seed: number = 1;

  @Param('scan the ground that it stands on, too', { says: (on: boolean) => (on ? null : 'no ground') })
  @IsOptional()
  @IsBoolean()
  ground: boolean = true;

  @Param('leave out what a camera walked round the thing does not see')
  @IsOptional()
  @IsBoolean()
  occlusion: boolean = true;
}

export interface PracticeReport {
  flaws: ScanFlaws;
  trianglesBefore: number;
  after: Inspection;
}

export const description = describe<'practice', PracticeParams, PracticeReport>({
  name: 'practice',
  formerly: 'scan',
  version: 1,
  makes: 'skin',
  takes: 'mesh',
  stop: 'intake',
  reopens: true,
  shows: 'skin',
  params: PracticeParams,
  kept: (r) => ({ ...r, after: readInspection(r.after) }) as PracticeReport,
  words: {
    summary: 'Makes a realistically dirty scan of a clean model, to practise on',
    example: 'jasmorphe practice clean.stl -o dirty.stl --severity 0.5 --seed 7',
    title: 'Stand-in scan',
    done: 'Scanned by stand-in',
    button: 'Scan it',
    figure: ({ seed }) => `seed ${whole(seed)}`,
    rows: [
      { label: 'Triangles', of: (r) => whole(r.after.triangles) },
      { label: 'Open loops', of: (r) => whole(r.after.openLoops) },
      { label: 'Pieces', of: (r) => whole(r.after.shells) },
      { label: 'Noise', of: (r, { length }) => length(r.flaws.noiseMm) },
    ],
    says: () => 'Practice material: the same seed gives the same scan.',
    fileWord: 'scanned',
  },
});
