import { fixed } from '../../words/numbers.ts';
import { Param, saysLength } from '../../params/Param.ts';
import { IsOptional } from 'class-validator';
import { IsDirection, IsLengthMm } from '../../params/checks.ts';
import { describe, type Proven } from '../Description.ts';

export class FootParams {
  @Param('how much to cut off the bottom; the height proposed if left out', { says: saysLength('cut off') })
  @IsOptional()
  @IsLengthMm()
  height?: number;

  @Param('direction that is up', {
    says: ([x, y, z]: number[]) =>
      x === 0 && y === 0 && z > 0 ? null : `up along ${[x, y, z].map((c) => fixed(c, 2)).join(', ')}`,
  })
  @IsOptional()
  @IsDirection()
  up: [number, number, number] = [0, 0, 1];
}

/** A height of the cut and the area that would then stand on the bed. */
export interface FootChoice {
  heightMm: number;
  areaMm2: number;
}

export interface FootReport {
  heightMm: number;
  contactAreaMm2: number;
  proposed: FootChoice;
  choices: FootChoice[];
  /** null when the mesh had no inside */
  removedVolumeMm3: number | null;
}

export const description = describe<'foot', FootParams, FootReport & Proven>({
  name: 'foot',
  version: 3,
  makes: 'skin',
  takes: 'mesh',
  stop: 'mend',
  proves: true,
  shows: 'skin',
  params: FootParams,
  words: {
    summary: 'Cuts the bottom flat to stand on',
    example: 'jasmorphe foot ammonite.stl -o standing.stl --height 2',
    title: 'Foot',
    done: 'Given a foot',
    button: 'Cut the foot',
    figure: (_, r, { length }) => length(r.heightMm),
    replays: () => 'the foot is cut again',
    rows: [
      { label: 'Cut off', of: (r, { length }) => length(r.heightMm) },
      {
        label: 'Contact',
        method: 'area of the section, holes left out',
        of: (r) => `${fixed(r.contactAreaMm2 / 100, 1)} cm²`,
      },
      { label: 'Lost', of: (r, { volume }) => (r.removedVolumeMm3 === null ? '—' : volume(r.removedVolumeMm3)) },
    ],
    says: (r, { length }) =>
      `It then stands on ${fixed(r.contactAreaMm2 / 100, 1)} cm², ${length(r.heightMm)} above the old bottom.`,
    fileWord: 'foot',
  },
});
