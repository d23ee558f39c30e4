import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useEffect, useState } from 'react';
import type { PartView } from '@jasmorphe/contracts/views';
import { ofPart } from '@jasmorphe/core/inspect/Finding';
import { catalogue, type ParamsOf, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { useAppDispatch } from '../../app/store.ts';
import { showLie, tellStudied } from '../../bench/benchSlice.ts';
import { ask, reportOf, usePreviews, type Preview } from '../../decision/usePreviews.ts';
import { usePickedPlace } from '../../decision/usePickedPlace.ts';
import { poseColumns, type ColumnId } from './poseColumns.ts';
import { upOfTurned } from './turned.ts';

type Report = ReportOf<'pose'>;
export type Pose = Report['poses'][number];

/** What the maker turned by hand: laid on a face, or leaned from how it lay. */
type ByHand = { face: Triple } | { from: number[][]; backDeg: number; rightDeg: number } | null;

/** A report of one pose alone, for the rows of a table. */
export const alone = (report: Report, pose: Pose): Report => ({ ...report, poses: [pose], chosen: pose.school });

/** What is found goes by the report alone. */
const params0 = new catalogue.pose.params();

/**
 * The ways in which a part may lie, asked of the server, and the one among them that is looked at.
 *
 * @param base what every pose is asked with
 * @param takenPose how it lies already; null where nobody laid it
 */
export function usePoses(part: PartView, base: Partial<ParamsOf<'pose'>>, takenPose: Pose | null) {
  const [picked, pick] = useState<ColumnId | null>(null);
  const [hand, setHand] = useState<ByHand>(null);
  const byHand =
    hand && ('face' in hand ? { face: hand.face } : { up: upOfTurned(hand.from, hand.backDeg, hand.rightDeg) });
  const [found, turned]: Preview[] = usePreviews(part.id, part.mesh.hash, [
    ask(catalogue.pose, base),
    byHand && ask(catalogue.pose, { ...base, ...byHand, compare: false }),
  ]);
  const report = reportOf(found, catalogue.pose);
  const turnedReport = reportOf(turned, catalogue.pose);
  const { columns, advised, standing } = poseColumns({
    report,
    taken: takenPose,
    byHand: hand ? (turnedReport?.poses[0] ?? null) : undefined,
    picked,
  });
  const chosen = [columns.findIndex((c) => c.id === picked), standing, advised].find((i) => i >= 0) ?? 0;
  const pose = columns[chosen]?.pose ?? null;
  const face = usePickedPlace('face', (at) => {
    setHand({ face: at });
    pick('own');
  });
  const leaning = hand && 'from' in hand ? hand : null;
  return {
    found,
    /** the one that is turned by hand */
    turned,
    report,
    columns,
    advised,
    /** index among the columns */
    chosen,
    pose,
    picked,
    pick,
    /** laid on a face that is picked on the bench */
    face,
    /** degrees by hand; null while nothing is leaned */
    leaning,
    lean: (change: Partial<{ backDeg: number; rightDeg: number }>) => {
      // before any pose is found it is turned from how it lies by now
      const from = leaning ?? { from: pose?.rotation ?? part.rotation, backDeg: 0, rightDeg: 0 };
      setHand({ ...from, ...change });
      pick('own');
    },
  };
}

/**
 * Shows on the bench how a part would lie, and what is to be said of it among the findings.
 *
 * @param isTaken it lies so: what is said of it stands among the findings already
 */
export function useShownPose(
  part: PartView,
  report: Report | null,
  pose: Pose | null,
  isTaken: boolean,
  overhangDeg: number,
): void {
  const dispatch = useAppDispatch();
  const rows = pose?.rotation;
  useEffect(() => {
    dispatch(showLie(rows ? { partId: part.id, rows, overhangDeg } : null));
    return () => void dispatch(showLie(null));
  }, [rows, overhangDeg, part.id, dispatch]);
  useEffect(() => {
    const told = !isTaken && report && pose && catalogue.pose.findings?.of(params0, alone(report, pose));
    dispatch(tellStudied((told || []).map((f) => ofPart(f, part.tag))));
    return () => void dispatch(tellStudied([]));
  }, [report, pose, isTaken, part.tag, dispatch]);
}
