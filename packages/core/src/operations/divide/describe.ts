import { longestOf, middleOf, stageFinding } from '../../inspect/stageFinding.ts';
import { isUnsound, proofMethod, proofText } from '../proofWords.ts';
import { fixed, whole, countOf, sizeText, type Speaker } from '../../words/numbers.ts';
import { Param, saysLength, saysWhen } from '../../params/Param.ts';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  Max,
  Min,
  ValidateBy,
} from 'class-validator';
import type { Wishes } from '../../params/Wishes.ts';
import type { Xyz } from '../../mesh/TriMesh.ts';
import { figures } from '../../trade/figures.ts';
import {
  IsBeds,
  IsBoxes,
  IsJoinPlaces,
  IsPartNames,
  IsLengthMm,
  IsMm,
  IsPlaneCuts,
  IsPositiveTriple,
  IsSpots,
  IsWishes,
  printerKinds,
  type JoinPlace,
  type NamedBed,
  type PartName,
  type PrinterKind,
} from '../../params/checks.ts';
import { axes, type Axis } from '../../mesh/axes.ts';
import type { CutAt } from '../../planning/cuts/grid.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import type { CleanBox, CleanSpot } from '../../planning/cuts/CleanBox.ts';
import { isPlanStyle, planNames, planStyles, type PlanStyle } from '../../planning/cuts/styles.ts';
import type { JoinLeftOut, LoosePart, Mixable, PlacedJoin } from './joins/Join.ts';
import { joinKinds, joinWords, type JoinKind } from '../../trade/joinKinds.ts';
import { describe, type Proven } from '../Description.ts';

export const isCut = (v: unknown): boolean =>
  typeof v === 'object' &&
  v !== null &&
  axes.includes((v as CutAt).axis) &&
  Number.isFinite((v as CutAt).mm) &&
  Object.keys(v).length === 2;

/** Even planes, or a plan that is best at something. */
export type DividePlan = 'auto' | 'grid' | PlanStyle;

export class DivideParams {
  @Param('room of the printer', {
    flag: null,
    says: (b: number[], { length }: Speaker) => `bed ${b.map((x) => length(x)).join(' × ')}`,
  })
  @IsPositiveTriple()
  bed: [number, number, number];

  @Param('kept free at each side of the bed, and on top', {
    says: (mm: number, { length }: Speaker) => (mm > 0 ? `${length(mm)} kept free` : null),
  })
  @IsOptional()
  @IsMm()
  margin: number = 0;

  @Param('give up beyond this many parts', { says: (n: number) => `at most ${whole(n)} parts` })
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(2000)
  maxParts?: number;

  @Param('several printers, by name, instead of the one', {
    says: (beds: NamedBed[]) => (beds.length > 1 ? `for ${beds.map((b) => b.name).join(', ')}` : null),
    flag: null,
  })
  @IsOptional()
  @IsBeds()
  beds?: NamedBed[];

  @Param(
    "grid: even planes along the model's own axes; auto: also tries the bed lying and standing; fewest, clean, support, soon: plans for fewest parts, least seam that shows, least support, soonest printed",
    {
      says: (plan: DividePlan) => (isPlanStyle(plan) ? `planned: ${planNames[plan].toLowerCase()}` : null),
      flag: null,
    },
  )
  @IsOptional()
  @IsIn(['auto', 'grid', ...planStyles])
  plan: DividePlan = 'auto';

  @Param('what prints it: the hours of a plan go by it', { says: (k: string) => (k === 'resin' ? 'for resin' : null) })
  @IsOptional()
  @IsIn(printerKinds)
  kind: PrinterKind = 'filament';

  @Param('height of a layer, for the hours of a plan', { says: saysLength('layer') })
  @IsOptional()
  @IsLengthMm()
  layer?: number;

  @Param('bore of the nozzle, for the hours of a plan', { says: saysLength('nozzle') })
  @IsOptional()
  @IsLengthMm()
  nozzle?: number;

  @Param('what counts in a plan, each from 0 to 1, instead of what the plan weighs', { flag: null })
  @IsOptional()
  @IsWishes()
  weights?: Wishes;

  @Param('boxes in which the skin must stay clean of seams', {
    says: (boxes: unknown[]) => (boxes.length > 0 ? `${countOf(boxes.length, 'place')} kept clean` : null),
    flag: null,
  })
  @IsOptional()
  @IsBoxes(100)
  keepClean?: CleanBox[];

  @Param('spots of the skin that were painted to stay clean of seams', {
    says: (spots: unknown[]) => (spots.length > 0 ? 'painted skin kept clean' : null),
    flag: null,
  })
  @IsOptional()
  @IsSpots(400)
  painted?: CleanSpot[];

  @Param('flat cuts of your own in any direction, through all or through one part', {
    says: (cuts: unknown[]) => `${whole(cuts.length)} cuts placed`,
    flag: null,
  })
  @IsOptional()
  @IsPlaneCuts(200)
  cuts?: PlaneCut[];

  @Param('a cut of your own instead of a plan', {
    says: (cuts: unknown[]) => `${whole(cuts.length)} cuts of one's own`,
    flag: null,
  })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(100)
  @ValidateBy({
    name: 'isCuts',
    validator: {
      validate: (v) => Array.isArray(v) && v.every(isCut),
      defaultMessage: () => 'at must list cuts such as {"axis": "z", "mm": 120}',
    },
  })
  at?: CutAt[];

  @Param('what holds the parts together', {
    says: (j: JoinKind) => (j === 'none' ? 'glued only' : `joined by ${joinWords[j].several}`),
  })
  @IsOptional()
  @IsIn(joinKinds)
  join: JoinKind = 'none';

  @Param('gap around a pin, dowel, key or magnet, a side', { says: saysLength('gap') })
  @IsOptional()
  @IsMm()
  clearance: number = figures.fitClearanceMm.value;

  @Param('largest pin, dowel, magnet or screw across', { says: saysLength('joins at most') })
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(2)
  @Max(12)
  joinMm: number = figures.joinAcrossMm.value;

  @Param('solid band along cut faces inside a shell, so wide, for joins to stand in; 0 for none', {
    says: (mm: number, { length }: Speaker) => (mm > 0 ? `bands of ${length(mm)}` : null),
  })
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(0)
  @Max(60)
  bandMm: number = 0;

  @Param('joins placed by hand, each on the face that two parts share there; kind none keeps a face free', {
    says: (places: unknown[]) => (places.length > 0 ? `${countOf(places.length, 'join')} placed by hand` : null),
    flag: null,
  })
  @IsOptional()
  @IsJoinPlaces(400)
  joinPlaces?: JoinPlace[];

  @Param('parts of the division before this one: those that come out again keep their names', {
    says: (names: unknown[]) => (names.length > 0 ? 'parts keep their names' : null),
    flag: null,
  })
  @IsOptional()
  @IsPartNames(2000)
  names?: PartName[];

  @Param("engrave each part's tag in its cut faces", { says: saysWhen('tags engraved') })
  @IsOptional()
  @IsBoolean()
  labels: boolean = false;

  @Param('height of the letters of a tag at most', { says: saysLength('letters') })
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(2)
  @Max(60)
  labelMm: number = figures.tagMm.value;

  @Param('how deep tags are engraved', { says: saysLength('deep') })
  @IsOptional()
  @IsNumber({ allowNaN: false, allowInfinity: false })
  @Min(0.2)
  @Max(3)
  labelDepthMm: number = figures.tagDepthMm.value;
}

export interface DividedPart {
  /** letter of the level from below, number within it */
  tag: string;
  volumeMm3: number;
  size: Xyz;
  min: Xyz;
  fits: boolean;
  /** how much too long it is for the bed, in the pose in which it comes nearest, mm; 0 where it fits */
  overMm: number;
  /** name of the bed on which it fits; empty where only one was given, or it fits none */
  printer: string;
  /** rows of the rotation in which it lies on its largest flat and fits, or comes nearest */
  pose: { rotation: number[][] };
  /** height in that pose, mm */
  heightMm: number;
  /** area of the flat that it lies on, mm²; 0 where there is none */
  footMm2: number;
  joins: PlacedJoin[];
  /** as it was cut, before joins and tags */
  plain: { min: Xyz; size: Xyz; volumeMm3: number };
  /** parts that it shares a face with, the largest face first, at which cut, from 1, and where a join has most room */
  beside: { tag: string; areaMm2: number; cut: number; rooms: Xyz[] }[];
  /** way in which it is moved to be seen apart; the farthest goes one unit */
  apart: Xyz;
}

/** One step of putting parts together: what is put on, to what, moved how, at which cut. */
export interface OrderStep {
  /** tags of what is put on together, with + between them */
  name: string;
  from: string[];
  /** way in which they are moved, length 1: straight on, or along the face where a dovetail slides */
  direction: Xyz;
  cut: number;
  /** face that is glued, mm² */
  glueMm2: number;
}

export interface DivideReport {
  parts: DividedPart[];
  /** axis is null for a cut aslant; through is a point of its section where it goes through one part alone */
  cuts: {
    axis: Axis | null;
    normal: Xyz;
    offset: number;
    through: Xyz | null;
    within: { min: Xyz; max: Xyz } | null;
    /** the closed line that was cut along */
    loop: Xyz[] | null;
    areaMm2: number;
    seamMm: number;
  }[];
  /** how the parts go together again */
  order: OrderStep[];
  /** what has to be printed apart or bought for the joins */
  loose: LoosePart[];
  /** faces that could be put together though they do not belong together */
  mixable: Mixable[];
  /** parts over cuts along creases for which no straight way off was found */
  interlocked: string[];
  /** joins placed by hand that could not be made */
  leftOut: JoinLeftOut[];
  /** faces that parts share, and those of them without a join */
  faces: number;
  bareFaces: number;
  /** cut faces too small for a tag */
  untagged: number;
  /** flesh of the bands in shells, mm³ */
  bandMm3: number;
  /** the parts drawn apart, the farthest first: outlines as x, y of their corners, y down; null of an earlier version */
  map: { wide: number; high: number; parts: { tag: string; rings: number[][] }[] } | null;
  volumeError: number;
  /** what was tried and why this was taken */
  reason: string;
}

/** Parts that are hardly worth a print. */
export const sliversOf = (parts: readonly DividedPart[]): DividedPart[] =>
  parts.filter((p) => longestOf(p.size) < figures.sliverMm.value);

const asItStands = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** A part as an earlier version kept it: its height is right for one that lies on a side of its own. */
function keptPart(p: Partial<DividedPart>): DividedPart {
  const rotation = p.pose?.rotation ?? asItStands;
  const [, , [ux, uy, uz]] = rotation;
  const { x, y, z } = p.size!;
  const heightMm = Math.abs(ux) * x + Math.abs(uy) * y + Math.abs(uz) * z;
  return {
    fits: true,
    printer: '',
    overMm: 0,
    heightMm,
    footMm2: 0,
    plain: { min: p.min!, size: p.size!, volumeMm3: p.volumeMm3! },
    apart: { x: 0, y: 0, z: 0 },
    ...p,
    beside: (p.beside ?? []).map((b) => ({ ...b, rooms: (b as Partial<typeof b>).rooms ?? [] })),
    joins: (p.joins ?? []).map((j) => ({
      cut: 0,
      lengthMm: 0,
      wallMm: 0,
      size: '',
      boss: false,
      own: false,
      ...(j as Partial<PlacedJoin>),
    })) as PlacedJoin[],
    pose: { rotation },
  } as DividedPart;
}

export const description = describe<'divide', DivideParams, DivideReport & Proven>({
  name: 'divide',
  version: 9,
  makes: 'parts',
  takes: 'mesh',
  stop: 'divide',
  leads: true,
  proves: true,
  shows: 'parts',
  params: DivideParams,
  begins: { margin: figures.bedMarginMm.value, join: 'pin', labels: true },
  kept: (r) =>
    ({
      loose: [],
      mixable: [],
      leftOut: [],
      faces: 0,
      bareFaces: 0,
      untagged: 0,
      bandMm3: 0,
      interlocked: [],
      map: null,
      ...r,
      order: (r.order ?? []).map((o) => ({ ...o, glueMm2: o.glueMm2 ?? 0 })),
      parts: r.parts!.map(keptPart),
      cuts: (r.cuts ?? []).map((c) => ({
        ...c,
        through: c.through ?? null,
        within: c.within ?? null,
        loop: c.loop ?? null,
        seamMm: c.seamMm ?? 0,
      })),
    }) as DivideReport & Proven,
  findings: {
    at: ['divide', 'layout', 'print'],
    of({ join }, { parts, leftOut, mixable, interlocked, faces, bareFaces }) {
      const underMm = figures.sliverMm.value;
      const slivers = sliversOf(parts);
      return [
        ...parts
          .filter((p) => !p.fits)
          .map((p) =>
            stageFinding(
              'too-large',
              'failure',
              { tag: p.tag, overMm: p.overMm },
              { name: p.tag, at: middleOf(p), spanMm: longestOf(p.size), sure: 'sampled', mends: ['divide'] },
            ),
          ),
        ...(slivers.length === 0
          ? []
          : [
              stageFinding(
                'slivers',
                'attention',
                { tags: slivers.map((p) => p.tag), underMm },
                {
                  name: slivers.map((p) => p.tag).join(' '),
                  at: middleOf(slivers[0]),
                  spanMm: underMm,
                  count: slivers.length,
                  mends: ['divide'],
                },
              ),
            ]),
        // steps done before it was counted say nothing of it
        ...(join === 'none' || !bareFaces
          ? []
          : [
              stageFinding(
                'faces-bare',
                bareFaces === faces ? 'attention' : 'note',
                { bare: bareFaces, of: faces, join: joinWords[join].several },
                { count: bareFaces, mends: ['divide'] },
              ),
            ]),
        ...leftOut.map(({ at, why }) =>
          stageFinding('join-left-out', 'attention', { why }, { at, spanMm: 1, mends: ['divide'] }),
        ),
        ...(interlocked.length === 0
          ? []
          : [
              stageFinding(
                'interlocked',
                'failure',
                { tags: interlocked },
                { name: interlocked.join(' '), count: interlocked.length, sure: 'sampled', mends: ['divide'] },
              ),
            ]),
        ...(mixable.length === 0
          ? []
          : [
              stageFinding(
                'could-mix',
                'attention',
                { pairs: mixable.map((m) => `${m.part} on ${m.other}`) },
                { name: mixable.map((m) => `${m.part}${m.other}`).join(' '), count: mixable.length, mends: ['divide'] },
              ),
            ]),
      ];
    },
  },
  words: {
    summary: 'Cuts a solid into parts that fit the bed',
    example: 'jasmorphe divide carnyx.stl -o parts --bed 220x220x250 --join pin --labels',
    title: 'Divide',
    done: 'Divided',
    button: 'Divide',
    figure: (_, r) => countOf(r.parts.length, 'part'),
    replays: ({ at, cuts }) =>
      at || cuts ? 'divide keeps its own cuts' : 'divide cuts for the same bed, in as many parts as it then takes',
    rows: [
      { label: 'Parts', of: (r) => whole(r.parts.length) },
      {
        label: 'Fit the bed',
        of: ({ parts }) => (parts.every((p) => p.fits) ? 'all' : whole(parts.filter((p) => p.fits).length)),
        bad: ({ parts }) => parts.some((p) => !p.fits),
        method: 'in some pose',
      },
      {
        label: 'On each printer',
        of: ({ parts }) => {
          const count = new Map<string, number>();
          for (const p of parts) count.set(p.printer, (count.get(p.printer) ?? 0) + 1);
          return [...count].map(([name, n]) => `${name || 'none'} ${whole(n)}`).join(', ');
        },
        when: ({ parts }) => parts.some((p) => p.printer !== ''),
      },
      {
        label: 'Slivers',
        of: ({ parts }) => whole(sliversOf(parts).length),
        method: `parts under ${figures.sliverMm.value} mm across`,
      },
      {
        label: 'Glue area',
        of: (r) => `${fixed(r.cuts.reduce((n, c) => n + c.areaMm2, 0) / 100, 0)} cm²`,
        method: 'area of the model in the planes of the cuts',
      },
      {
        label: 'Seam',
        of: (r, { length }) => length(r.cuts.reduce((n, c) => n + c.seamMm, 0)),
        method: 'length of the cuts on the skin',
      },
      {
        label: 'Joins',
        of: (r) => whole(r.parts.reduce((n, p) => n + p.joins.length, 0) / 2),
        method: 'as far apart as the flesh allows',
      },
      {
        label: 'Faces without a join',
        of: (r) => (r.faces > 0 ? `${whole(r.bareFaces)} of ${whole(r.faces)}` : '—'),
        method: 'too little flesh, or none wanted; bands give shells flesh',
      },
      {
        label: 'Bands',
        of: (r, { volume }) => volume(r.bandMm3),
        method: 'flesh added along cut faces inside the shell',
        when: (r) => r.bandMm3 > 0,
      },
      { label: 'Sound solids', of: (r) => proofText(r.proof), bad: isUnsound, method: proofMethod },
    ],
    says: (r) => r.reason,
    table: {
      heads: ['Part', 'Size', 'Lies', 'Foot', 'Volume', 'Fits'],
      rows: (r, { length, area, volume }) =>
        r.parts.map((p) => [
          p.tag,
          sizeText(p.size, length),
          `${length(p.heightMm)} high`,
          area(p.footMm2),
          volume(p.volumeMm3),
          p.fits ? 'yes' : 'no',
        ]),
    },
  },
});
