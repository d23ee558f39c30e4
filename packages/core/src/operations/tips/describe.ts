import { IsBoolean, IsOptional } from 'class-validator';
import { stageFinding } from '../../inspect/stageFinding.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { IsBoxes, IsMm } from '../../params/checks.ts';
import { Param } from '../../params/Param.ts';
import type { CleanBox } from '../../planning/cuts/CleanBox.ts';
import type { TipReason } from '../../planning/tips/findTips.ts';
import { tipSizes, type TipSize } from '../../trade/tipSizes.ts';
import { fixed, whole } from '../../words/numbers.ts';
import { describe } from '../Description.ts';
import { LyingParams } from '../lying.ts';

export class TipsParams extends LyingParams {
  @Param('how far it is held above the bed; usual for the kind of printer if left out')
  @IsOptional()
  @IsMm()
  lift?: number;

  @Param('each tip gets a strut, as a body of its own')
  @IsOptional()
  @IsBoolean()
  struts: boolean = false;

  @Param('struts may stand on the part where nothing else reaches')
  @IsOptional()
  @IsBoolean()
  onPart: boolean = false;

  @Param('boxes in which no support may stand', { flag: null })
  @IsOptional()
  @IsBoxes(100)
  bare?: CleanBox[];
}

/** A place where support must touch. */
export interface TipPlace {
  /** on the part as it stands in the model */
  at: Xyz;
  /** layer in which it is laid, from 0, and its height above the lowest point */
  layer: number;
  zMm: number;
  size: TipSize;
  reason: TipReason;
  /** area that starts there, or that it holds, mm² */
  areaMm2: number;
  /** straight below is the part itself */
  overPart: boolean;
  /** whether its strut stands on the bed, on the part, or none reaches it; null where none were asked for */
  strut: 'bed' | 'part' | 'none' | null;
}

export interface TipsReport {
  tips: TipPlace[];
  /** rows of the rotation in which it lies */
  rotation: number[][];
  liftMm: number;
  /** what was made of struts; null where none were asked for */
  struts: {
    count: number;
    braces: number;
    unreached: number;
    volumeMm3: number;
    bedZMm: number;
    sound: boolean;
  } | null;
}

const count = ({ tips }: TipsReport, holds: (t: TipPlace) => boolean): number => tips.filter(holds).length;

/** Why a support must touch there. */
export const tipReasonWords: Record<TipReason, string> = {
  island: 'starts in mid-air',
  edge: 'overhang ends free',
  overhang: 'overhang',
};

export const description = describe<'tips', TipsParams, TipsReport>({
  name: 'tips',
  version: 2,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'layout',
  study: true,
  shows: 'nothing',
  params: TipsParams,
  findings: {
    at: ['layout'],
    of: (_, r) =>
      r.struts && r.struts.unreached > 0
        ? [
            stageFinding(
              'no-strut',
              'attention',
              { places: r.struts.unreached },
              { count: r.struts.unreached, at: r.tips.find((t) => t.strut === 'none')?.at, spanMm: 5 },
            ),
          ]
        : [],
  },
  words: {
    summary: 'Lists where support must touch a part, and lays struts there',
    example: 'jasmorphe tips lying.stl --printer resin.json --struts -o struts.3mf',
    title: 'Support tips',
    done: 'Tips listed',
    button: 'List the tips',
    rows: [
      { label: 'Tips', of: (r) => whole(r.tips.length) },
      ...tipSizes.map((size) => ({
        label: size,
        of: (r: TipsReport) => whole(count(r, (t) => t.size === size)),
        when: (r: TipsReport) => count(r, (t) => t.size === size) > 0,
      })),
      { label: 'Start in mid-air', of: (r) => whole(count(r, (t) => t.reason === 'island')) },
      { label: 'At edges', of: (r) => whole(count(r, (t) => t.reason === 'edge')) },
      { label: 'Under overhangs', of: (r) => whole(count(r, (t) => t.reason === 'overhang')) },
      {
        label: 'Struts',
        of: (r) => (r.struts ? `${whole(r.struts.count)}, ${whole(r.struts.braces)} braces` : '—'),
        when: (r) => r.struts !== null,
      },
      {
        label: 'Not reached',
        of: (r) => whole(r.struts?.unreached ?? 0),
        bad: (r) => (r.struts?.unreached ?? 0) > 0,
        when: (r) => (r.struts?.unreached ?? 0) > 0,
        method: 'no straight strut gets there clear of the part',
      },
      {
        label: 'Sound',
        of: (r) => (r.struts?.sound ? 'yes' : 'no'),
        bad: (r) => r.struts?.sound === false,
        when: (r) => r.struts?.sound === false,
        method: 'their body is closed and free of crossings',
      },
      {
        label: 'Their volume',
        of: (r, { volume }) => volume(r.struts?.volumeMm3 ?? 0),
        when: (r) => r.struts !== null,
      },
    ],
    says: (r) =>
      r.tips.length === 0 ? 'Nothing starts in mid-air, and no overhang goes on too far: it needs no support.' : '',
    table: {
      heads: ['Layer', 'Height', 'At', 'Size', 'Why'],
      rows: (r, { length }) =>
        r.tips.slice(0, 60).map((t) => [
          // people count layers from one
          whole(t.layer + 1),
          length(t.zMm),
          [t.at.x, t.at.y, t.at.z].map((c) => fixed(c, 1)).join(', '),
          t.size,
          tipReasonWords[t.reason],
        ]),
    },
  },
});
