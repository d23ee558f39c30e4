import { IsBoolean, IsIn, IsOptional } from 'class-validator';
import { stageFinding } from '../../inspect/stageFinding.ts';
import type { Finding } from '../../inspect/Finding.ts';
import { IsBoxes, IsDirection, IsPlaneCuts, IsSpots, IsTriple } from '../../params/checks.ts';
import { Param } from '../../params/Param.ts';
import type { CleanBox, CleanSpot } from '../../planning/cuts/CleanBox.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import type { SchoolPose } from '../../planning/pose/posesOf.ts';
import { schoolNames, schools, type PoseName, type School } from '../../planning/pose/schools.ts';
import { IsPrinter, type PrinterProfile } from '../../planning/PrinterProfile.ts';
import { figures } from '../../trade/figures.ts';
import { secondsText, whole, type Speaker } from '../../words/numbers.ts';
import { describe } from '../Description.ts';
import { poseRows, upText } from './poseRows.ts';
import { whyOf } from './why.ts';

export class PoseParams {
  @Param('printer, settings and material; usual ones of filament if left out', { flag: null })
  @IsOptional()
  @IsPrinter()
  printer?: Partial<PrinterProfile>;

  @Param('which pose is taken: the one that costs least in all if left out', {
    says: (school: School) => schoolNames[school].toLowerCase(),
  })
  @IsOptional()
  @IsIn(schools)
  school?: School;

  @Param('all schools are looked at, to be compared')
  @IsOptional()
  @IsBoolean()
  compare: boolean = true;

  @Param('direction of the model that is to be up; nothing is searched then')
  @IsOptional()
  @IsDirection()
  up?: [number, number, number];

  @Param('a point on the face that is laid down; nothing is searched then', { says: () => 'on a face' })
  @IsOptional()
  @IsTriple()
  face?: [number, number, number];

  @Param('planes in which the part is glued to others: marks and steps do not matter there', { flag: null })
  @IsOptional()
  @IsPlaneCuts(200)
  unseen?: PlaneCut[];

  @Param('skin that nobody looks at, in spots: marks and steps do not matter there', { flag: null })
  @IsOptional()
  @IsSpots(400)
  hidden?: CleanSpot[];

  @Param('boxes in which no support may stand', { flag: null })
  @IsOptional()
  @IsBoxes(100)
  bare?: CleanBox[];
}

export interface PoseReport {
  /** the one that is taken comes first where nothing is compared */
  poses: SchoolPose[];
  /** which of them is taken */
  chosen: PoseName;
  /** poses that were compared */
  looked: number;
  /** does it fit the bed in any pose? */
  fits: boolean;
  kind: 'filament' | 'resin';
}

/** The pose that is taken. */
export const takenOf = ({ poses, chosen }: Pick<PoseReport, 'poses' | 'chosen'>): SchoolPose =>
  poses.find((p) => p.school === chosen) ?? poses[0];

/** What is to be minded of a pose. */
function findingsOf({ kind, fits, looked }: PoseReport, pose: SchoolPose): Finding[] {
  const out: Finding[] = [];
  if (!pose.fits && (fits || looked === 1)) out.push(stageFinding('off-bed', 'failure', { tag: '' }));
  else if (!pose.fits) out.push(stageFinding('too-large', 'failure', { tag: '' }, { sure: 'sampled' }));
  if (kind === 'filament' && pose.tipDeg < figures.tipDeg.value) {
    const { tipDeg, heldDeg, footMm2, heightMm } = pose;
    out.push(
      stageFinding('topples', heldDeg < 0 ? 'failure' : 'attention', { tag: '', tipDeg, heldDeg, footMm2, heightMm }),
    );
  }
  if (kind === 'resin')
    for (const { at, volumeMm3, fromMm } of pose.cups)
      out.push(stageFinding('cup', 'attention', { tag: '', volumeMm3, fromMm }, { at, spanMm: Math.cbrt(volumeMm3) }));
  if (pose.islands > 0)
    out.push(
      stageFinding(
        'starts-in-air',
        'note',
        { tag: '', places: pose.islands, largestMm2: pose.islandPlaces[0]?.areaMm2 ?? 0 },
        { count: pose.islands, at: pose.islandPlaces[0]?.at, spanMm: 5 },
      ),
    );
  return out;
}

export const description = describe<'pose', PoseParams, PoseReport>({
  name: 'pose',
  version: 4,
  long: ({ up }) => up === undefined,
  // support counted before
  kept: (report) => ({
    ...(report as PoseReport),
    poses: (report.poses ?? []).map((p) => ({ ...p, heldDeg: p.heldDeg ?? p.tipDeg })),
  }),
  makes: 'nothing',
  takes: 'mesh',
  stop: 'layout',
  lays: true,
  shows: 'nothing',
  params: PoseParams,
  findings: { at: ['layout'], of: (_, report) => findingsOf(report, takenOf(report)) },
  words: {
    summary: 'Looks for the pose in which a part prints best',
    example: 'jasmorphe pose B3.stl --printer longbed.json -o lying.stl',
    title: 'Pose',
    done: 'Posed',
    button: 'Lay it so',
    figure: (_, r, { length }) => `${schoolNames[r.chosen].toLowerCase()}, ${length(takenOf(r).heightMm)}`,
    rows: [
      { label: 'Pose', of: (r) => schoolNames[takenOf(r).school] },
      { label: 'Up', of: (r) => upText(takenOf(r)), method: 'direction of the model that is up' },
      ...poseRows.map((row) => ({
        label: row.label,
        method: row.method,
        of: (r: PoseReport, say: Speaker) => row.of(takenOf(r), say),
        ...(row.brief ? { brief: (r: PoseReport, say: Speaker) => row.brief!(takenOf(r), say) } : {}),
        ...(row.bad ? { bad: (r: PoseReport) => row.bad!(takenOf(r)) } : {}),
        ...(row.when ? { when: (r: PoseReport) => row.when!(takenOf(r), r.kind) } : {}),
      })),
    ],
    says: (r, say) => whyOf(takenOf(r), r.poses, say),
    table: {
      heads: ['School', 'Height', 'Foot', 'Support', 'In mid-air', 'Print', 'Hands'],
      rows: (r, { length, area, volume }) =>
        r.poses.length < 2
          ? []
          : r.poses.map((p) => [
              `${schoolNames[p.school]}${p.fits ? '' : ', does not fit'}`,
              length(p.heightMm),
              area(p.footMm2),
              volume(p.supportMm3),
              whole(p.islands),
              secondsText(p.durationS),
              secondsText(p.handS),
            ]),
    },
  },
});
