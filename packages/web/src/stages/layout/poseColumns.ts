import type { ReportOf } from '@jasmorphe/core/operations/catalogue';
import { takenOf } from '@jasmorphe/core/operations/pose/describe';
import { isSamePose } from '@jasmorphe/core/operations/pose/why';
import { schoolNames, type PoseName } from '@jasmorphe/core/planning/pose/schools';

type Report = ReportOf<'pose'>;
type Pose = Report['poses'][number];

/** So many columns have room; of more, the costliest are left out. */
const mostColumns = 4;

/** The schools that are shown: leaning back is for resin, and what another school found as well is not said twice. */
export function shownPoses({ poses, kind }: Report): Pose[] {
  const schools = poses.filter((p) => p.school !== 'lean' || kind === 'resin');
  const best = schools.find((p) => p.school === 'best');
  const others = schools.filter((p) => p.school !== 'best');
  return best && !others.some((p) => isSamePose(p, best)) ? [best, ...others] : others.length > 0 ? others : schools;
}

/** As many as there is room for: the costliest are left out, but for the one that is picked, and what resin leans by. */
function roomFor(poses: Pose[], most: number, picked: string | null): Pose[] {
  const out = [...poses];
  while (out.length > most) {
    const spare = out.filter((p) => p.school !== picked && p.school !== 'best' && p.school !== 'lean');
    out.splice(out.indexOf(spare.reduce((a, b) => (b.costS > a.costS ? b : a))), 1);
  }
  return out;
}

/** A school, how it lies already, or what is turned by hand. */
export type ColumnId = PoseName | 'kept';

/** One of the ways in which a part may lie. */
export interface PoseColumn {
  id: ColumnId;
  name: string;
  /** null while it is worked out */
  pose: Pose | null;
  /** it lies so */
  taken: boolean;
}

/**
 * The ways that are shown side by side: the schools, how the part lies already where that is none of them, and what is
 * turned by hand.
 *
 * @param byHand undefined where nothing is turned, null while that is worked out
 * @returns with the columns that are advised and taken by their places, -1 where there is none
 */
export function poseColumns({
  report,
  taken,
  byHand,
  picked,
}: {
  report: Report | null;
  taken: Pose | null;
  byHand: Pose | null | undefined;
  picked: ColumnId | null;
}): { columns: PoseColumn[]; advised: number; standing: number } {
  if (!report) return { columns: [], advised: -1, standing: -1 };
  const all = shownPoses(report);
  const isTaken = (p: Pose | null): boolean => p !== null && taken !== null && isSamePose(p, taken);
  // how it lies by hand stands beside the schools, on a later visit too
  const kept = taken && !all.some(isTaken) && !isTaken(byHand ?? null) ? taken : null;
  const room = mostColumns - Number(byHand !== undefined) - Number(kept !== null);
  const columns: PoseColumn[] = roomFor(all, room, picked).map((pose) => ({
    id: pose.school,
    name: schoolNames[pose.school],
    pose,
    taken: isTaken(pose),
  }));
  if (kept) columns.push({ id: 'kept', name: 'As it lies', pose: kept, taken: true });
  if (byHand !== undefined) columns.push({ id: 'own', name: schoolNames.own, pose: byHand, taken: isTaken(byHand) });
  const best = takenOf(report);
  return {
    columns,
    advised: columns.findIndex((c) => c.id !== 'own' && c.pose !== null && isSamePose(c.pose, best)),
    standing: columns.findIndex((c) => c.taken),
  };
}
