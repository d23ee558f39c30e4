import { IsBoolean, IsIn, IsOptional } from 'class-validator';
import {
  IsBeds,
  IsBoxes,
  IsLengthMm,
  IsMm,
  IsPlaneCuts,
  IsPositiveTriple,
  IsSpots,
  IsWishes,
  printerKinds,
  type NamedBed,
  type PrinterKind,
} from '../../params/checks.ts';
import { stageFinding } from '../../inspect/stageFinding.ts';
import { Param } from '../../params/Param.ts';
import type { Wishes } from '../../params/Wishes.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import type { CleanBox, CleanSpot } from '../../planning/cuts/CleanBox.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import type { PlanPicture } from '../../planning/cuts/planPicture.ts';
import type { PlanFigures } from '../../planning/cuts/planCuts.ts';
import { planNames, planStyles, type PlanStyle } from '../../planning/cuts/styles.ts';
import { fixed, lengthBrief, secondsText, whole, volumeBrief } from '../../words/numbers.ts';
import { describe } from '../Description.ts';

export class CutsParams {
  @Param('room of the printer', { flag: null })
  @IsPositiveTriple()
  bed: [number, number, number];

  @Param('kept free at each side of the bed, and on top')
  @IsOptional()
  @IsMm()
  margin: number = 0;

  @Param('several printers, by name', { flag: null })
  @IsOptional()
  @IsBeds()
  beds?: NamedBed[];

  @Param('what prints it: hours go by it')
  @IsOptional()
  @IsIn(printerKinds)
  kind: PrinterKind = 'filament';

  @Param('height of a layer, where it is not the usual one')
  @IsOptional()
  @IsLengthMm()
  layer?: number;

  @Param('bore of the nozzle, where it is not the usual one: lines and layers go by it')
  @IsOptional()
  @IsLengthMm()
  nozzle?: number;

  @Param('what the plan is to be best at')
  @IsOptional()
  @IsIn(planStyles)
  plan: PlanStyle = 'fewest';

  @Param('a first plan within seconds, by a narrow search')
  @IsOptional()
  @IsBoolean()
  quick: boolean = false;

  @Param('what counts, each from 0 to 1, instead of what the plan weighs', { flag: null })
  @IsOptional()
  @IsWishes()
  weights?: Wishes;

  @Param('cuts of your own, which are judged instead of planning any', { flag: null })
  @IsOptional()
  @IsPlaneCuts(200)
  cuts?: PlaneCut[];

  @Param('boxes in which the skin must stay clean of seams', { flag: null })
  @IsOptional()
  @IsBoxes(100)
  keepClean?: CleanBox[];

  @Param('spots of the skin that were painted to stay clean of seams', { flag: null })
  @IsOptional()
  @IsSpots(400)
  painted?: CleanSpot[];
}

/** What a plan of cuts comes to. */
export interface CutsReport extends Omit<PlanFigures, 'shares'> {
  plan: PlanStyle | 'own';
  cuts: PlaneCut[];
  /** the parts drawn apart */
  picture: PlanPicture;
  /** ways to cut that were compared */
  looked: number;
  /** the even grid was as good as anything found */
  grid: boolean;
  /** what each printer prints, where there are several */
  printers: { name: string; parts: number; durationS: number }[];
  /** parts that fit no bed: where their middles are, and how much too long they are */
  misfits: { at: Xyz; overMm: number }[];
}

/** Hours without their tenths from a hundred on. */
export const hoursShort = (s: number): string => (s >= 360_000 ? `${fixed(s / 3600, 0)} h` : secondsText(s));

export const description = describe<'cuts', CutsParams, CutsReport>({
  name: 'cuts',
  version: 7,
  long: ({ quick, cuts }) => !quick && cuts === undefined,
  makes: 'nothing',
  takes: 'mesh',
  stop: 'divide',
  study: true,
  shows: 'nothing',
  params: CutsParams,
  kept: (r) => ({ mirrored: null, printers: [], pieces: [], ...r }) as CutsReport,
  findings: {
    at: ['divide'],
    of: (_, { misfits }) =>
      misfits.map(({ at, overMm }) =>
        stageFinding('too-large', 'failure', { tag: '', overMm }, { at, spanMm: 1, sure: 'sampled' }),
      ),
  },
  words: {
    summary: 'Plans where to cut a solid for one printer or several, without cutting it',
    example: 'jasmorphe cuts carnyx.stl --bed 220x220x250 --plan clean',
    title: 'Plan of cuts',
    done: 'Cuts planned',
    button: 'Plan the cuts',
    rows: [
      { label: 'Parts', of: (r) => whole(r.parts), bad: (r) => r.fitting < r.parts },
      { label: 'Fit the bed', of: (r) => (r.fitting === r.parts ? 'all' : whole(r.fitting)), method: 'in some pose' },
      {
        label: 'Too long by',
        of: (r, { length }) => (r.misfits.length > 0 ? length(Math.max(...r.misfits.map((m) => m.overMm))) : '—'),
        method: 'in the pose in which it comes nearest; the worst part',
        bad: (r) => r.misfits.length > 0,
        when: (r) => r.misfits.length > 0,
      },
      {
        label: 'Seam seen',
        of: (r, { length }) => length(r.seenSeamMm),
        brief: (r, { length }) => lengthBrief(r.seenSeamMm, length),
        method: 'each stretch by how much of the open is seen from it; what looks down counts for 0.3',
      },
      {
        label: 'Seam in all',
        of: (r, { length }) => length(r.seamMm),
        brief: (r, { length }) => lengthBrief(r.seamMm, length),
      },
      {
        label: 'Support',
        of: (r, { volume }) => volume(r.supportMm3),
        brief: (r, say) => volumeBrief(r.supportMm3, say),
        method: 'room under the overhangs of all parts, each in the best of up to ten poses; on a light stand-in',
      },
      {
        label: 'Longest',
        of: (r) => secondsText(r.longestS),
        brief: (r) => hoursShort(r.longestS),
        method:
          'filament: from volume and skin; resin: from the height; by usual settings of each printer and its nozzle',
      },
      {
        label: 'All printed',
        of: (r) => secondsText(r.allS),
        brief: (r) => hoursShort(r.allS),
        method: 'on all the printers named',
      },
      {
        label: 'On each printer',
        of: (r) => r.printers.map((p) => `${p.name} ${whole(p.parts)}, ${secondsText(p.durationS)}`).join(' · '),
        method: 'parts and hours; the longest first, each to whichever printer that takes it has it done first',
        when: (r) => r.printers.length > 1,
      },
      {
        label: 'Mirrored',
        of: (r) => (r.mirrored === null ? '—' : r.mirrored > 0.999 ? 'all' : `${fixed(100 * r.mirrored, 0)} %`),
        method:
          'share of the flesh in parts that have their twin on the other side, in the mean over the planes the model is mirrored in',
        when: (r) => r.mirrored !== null,
      },
      { label: 'Slivers', of: (r) => whole(r.slivers), when: (r) => r.slivers > 0 },
    ],
    says: (r) =>
      r.plan === 'own'
        ? 'Your own cuts.'
        : `${planNames[r.plan]}: best of ${fixed(r.looked, 0)} ways to cut compared.${r.grid ? ' Nothing better than the even grid was found.' : ''}`,
    table: {
      heads: ['Cut', 'Normal', 'At'],
      rows: (r, { length }) =>
        r.cuts.map((c, i) => [`${i + 1}`, c.normal.map((x) => fixed(x, 2)).join(', '), length(c.offset)]),
    },
  },
});
