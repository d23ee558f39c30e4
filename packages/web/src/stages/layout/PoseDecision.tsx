import Button from '@mui/material/Button';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import { poseAfter } from '@jasmorphe/contracts/poses';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { isSamePose, whyOf } from '@jasmorphe/core/operations/pose/why';
import { takenOf } from '@jasmorphe/core/operations/pose/describe';
import { schoolNames, type PoseName } from '@jasmorphe/core/planning/pose/schools';
import { figures } from '@jasmorphe/core/trade/figures';
import { useBodyQuery, useRunStepMutation, wordsOf } from '../../app/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { askForPoints, showLie, tellStudied } from '../../bench/benchSlice.ts';
import { Decision, type OptionColumn } from '../../decision/Decision.tsx';
import { rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { NumberField } from '../../forms/Fields.tsx';
import { PrinterField } from '../../forms/PrinterField.tsx';
import { Note } from '../../ui/Note.tsx';
import { LayersOfPart } from './LayersOfPart.tsx';
import { TipsOfPart } from './TipsOfPart.tsx';
import { poseParams, printerOfPart } from './poseParams.ts';
import { upOfTurned } from './turned.ts';

type Report = ReportOf<'pose'>;
type Pose = Report['poses'][number];
type Point = [number, number, number];

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
type ColumnId = PoseName | 'kept';

/** What the maker turned by hand. */
type ByHand = { face: Point } | { from: number[][]; backDeg: number; rightDeg: number } | null;

/** A report of one pose alone, for the rows of the table. */
const alone = (report: Report, pose: Pose): Report => ({ ...report, poses: [pose], chosen: pose.school });

/** What is found goes by the report alone. */
const params0 = new catalogue.pose.params();

/** So many columns have room; of more, the costliest are left out. */
const mostColumns = 4;

/** A point picked on the part, once it is asked for. */
function usePickedFace(onPick: (at: Point) => void): { asking: boolean; toggle: () => void } {
  const dispatch = useAppDispatch();
  const asking = useAppSelector((s) => s.bench.asks > 0);
  const points = useAppSelector((s) => s.bench.points);
  useEffect(() => {
    if (!asking || points.length === 0) return;
    onPick(points[0]);
    dispatch(askForPoints(0));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- told once for each point
  }, [points]);
  useEffect(() => () => void dispatch(askForPoints(0)), [dispatch]);
  return {
    asking,
    toggle: () => void dispatch(askForPoints(asking ? 0 : 1)),
  };
}

/** How a part lies: the schools side by side, or turned by hand. */
export function PoseDecision({
  part,
  body,
  printers,
  below,
}: {
  part: PartView;
  body: BodyView;
  printers: PrinterView[];
  below: ReactNode;
}) {
  const dispatch = useAppDispatch();
  const length = useLength();
  const thought = usePrinter(printers);
  const [other, setOther] = useState<string | null>(null);
  const printer = printers.find((p) => p.id === other) ?? printerOfPart(part, printers, thought.printer);
  const resin = printer?.profile.kind === 'resin';
  const { data: own } = useBodyQuery(part.id);
  const [runStep, sending] = useRunStepMutation();
  const base = useMemo(() => poseParams(body, printer), [body, printer]);
  const taken = poseAfter(part.line, part.cursor);
  const takenPose = taken && part.posed ? takenOf(taken.report) : null;
  const [picked, setPicked] = useState<ColumnId | null>(null);
  const [hand, setHand] = useState<ByHand>(null);
  const byHand =
    hand && ('face' in hand ? { face: hand.face } : { up: upOfTurned(hand.from, hand.backDeg, hand.rightDeg) });
  const [found, turned] = usePreviews(part.id, part.mesh.hash, [
    ask(catalogue.pose, base),
    byHand && ask(catalogue.pose, { ...base, ...byHand, compare: false }),
  ]);
  const report = reportOf(found, catalogue.pose);
  const turnedReport = reportOf(turned, catalogue.pose);
  const inHand = turnedReport?.poses[0] ?? null;
  const all = report ? shownPoses(report) : [];
  // how it lies by hand stands beside the schools, on a later visit too
  const kept =
    takenPose && !all.some((p) => isSamePose(p, takenPose)) && !(inHand && isSamePose(inHand, takenPose))
      ? takenPose
      : null;
  const schools = roomFor(all, mostColumns - Number(hand !== null) - Number(kept !== null), picked);
  const ids: ColumnId[] = [
    ...schools.map((p) => p.school),
    ...(kept ? (['kept'] as const) : []),
    ...(hand ? (['own'] as const) : []),
  ];
  const poses: (Pose | null)[] = [...schools, ...(kept ? [kept] : []), ...(hand ? [inHand] : [])];
  const best = report && takenOf(report);
  const advised = best ? schools.findIndex((p) => isSamePose(p, best)) : -1;
  const standing = takenPose ? poses.findIndex((p) => p && isSamePose(p, takenPose)) : -1;
  const chosen = [picked ? ids.indexOf(picked) : -1, standing, advised].find((i) => i >= 0) ?? 0;
  const pose = poses[chosen] ?? null;
  const outside = pose !== null && !pose.fits && report !== null && report.fits;
  // for another printer it is laid anew: its hours are others
  const samePrinter = JSON.stringify(taken?.params.printer) === JSON.stringify(base.printer);
  const isTaken = pose !== null && takenPose !== null && isSamePose(pose, takenPose) && samePrinter;
  const rows = pose?.rotation;
  const overhangDeg = printer?.profile.overhangDeg ?? 45;
  useEffect(() => {
    dispatch(showLie(rows ? { partId: part.id, rows, overhangDeg } : null));
    return () => void dispatch(showLie(null));
  }, [rows, overhangDeg, part.id, dispatch]);
  useEffect(() => {
    // what is said of the pose that was taken stands among the findings already
    const told = !isTaken && report && pose && catalogue.pose.findings?.of(params0, alone(report, pose));
    dispatch(tellStudied((told || []).map((f) => ({ ...f, values: { ...f.values, tag: part.tag } }))));
    return () => void dispatch(tellStudied([]));
  }, [report, pose, isTaken, part.tag, dispatch]);
  const face = usePickedFace((at) => {
    setHand({ face: at });
    setPicked('own');
  });
  const lean = (change: Partial<{ backDeg: number; rightDeg: number }>) => {
    const from = hand && 'from' in hand ? hand : rows && { from: rows, backDeg: 0, rightDeg: 0 };
    if (!from) return;
    setHand({ ...from, ...change });
    setPicked('own');
  };
  const fixedNow = part.state === 'printing' || part.state === 'failed';
  const columns: OptionColumn[] = report
    ? [
        ...schools.map((p) => ({ name: schoolNames[p.school], taken: takenPose !== null && isSamePose(p, takenPose) })),
        ...(kept ? [{ name: 'As it lies', taken: true }] : []),
        ...(hand ? [{ name: schoolNames.own, preview: turned }] : []),
      ]
    : [{ name: schoolNames.best, preview: found }];
  const reports: (Report | null)[] = report ? poses.map((p) => p && alone(report, p)) : [null];
  const lays = (p: Pose) =>
    void runStep({
      bodyId: part.id,
      operation: catalogue.pose.name,
      params: {
        ...base,
        up: [p.up.x, p.up.y, p.up.z],
        ...(p.school === 'own' ? {} : { school: p.school }),
        compare: false,
      },
    });
  const leaning = hand && 'from' in hand ? hand : null;
  return (
    <Decision
      step={`Lay out ${part.tag}`}
      question={`How does ${part.tag} lie?`}
      lead={
        printer
          ? `On ${printer.profile.name}, layers of ${length(printer.profile.layerMm)}${resin ? ', resin' : ''}. The bench shows the one that is picked; what leans out too far is ochre.`
          : 'By usual settings of filament; add your printers at the workshop.'
      }
      options={columns}
      rows={rowsOf(catalogue.pose, reports, { length, liquid: resin }, { leave: ['Pose', 'Up'] })}
      chosen={report ? chosen : 0}
      onChoose={(i) => setPicked(ids[i] ?? null)}
      advised={advised >= 0 ? advised : null}
      tight
      advice={
        fixedNow ? (
          `${part.tag} ${part.state === 'printing' ? 'is on the bed as it lies' : 'stopped as it lies'}. Say at Print how that ended before it is laid otherwise.`
        ) : sending.error ? (
          <>
            <b>{wordsOf(sending.error).message}</b> {wordsOf(sending.error).hint}
          </>
        ) : report && pose ? (
          whyOf(pose, report.poses, { length })
        ) : (
          'Poses all round are being tried.'
        )
      }
      fields={
        <>
          <PrinterField printers={printers} value={printer?.id} onChange={setOther} />
          <NumberField
            label="Lean back"
            hint="degrees; its top goes away from you"
            value={leaning?.backDeg ?? 0}
            onChange={(v) => lean({ backDeg: v ?? 0 })}
            refused={leaning && Math.abs(leaning.backDeg) > 180 ? 'at most 180' : null}
          />
          <NumberField
            label="Lean to the right"
            hint="degrees"
            value={leaning?.rightDeg ?? 0}
            onChange={(v) => lean({ rightDeg: v ?? 0 })}
            refused={leaning && Math.abs(leaning.rightDeg) > 180 ? 'at most 180' : null}
          />
          <Button variant="text" aria-pressed={face.asking} disabled={!rows} onClick={face.toggle}>
            {face.asking ? 'Click the face on the bench …' : 'Lay it on a face …'}
          </Button>
        </>
      }
      action={{
        label: isTaken ? `${part.tag} lies so` : `Lay ${part.tag} so`,
        disabled: sending.isLoading || fixedNow || pose === null || isTaken || outside,
        run: () => pose && lays(pose),
      }}
      busy={own?.busyJobId != null || body.busyJobId !== null}
      below={
        <>
          {turned.state === 'failed' && picked === 'own' && (
            <Note tone="failure">
              <b>{turned.error.message}</b> {turned.error.hint}
            </Note>
          )}
          {pose && own && (
            <TipsOfPart
              part={part}
              own={own}
              rotation={pose.rotation}
              printer={base.printer}
              layerMm={printer?.profile.layerMm ?? figures.layerMm.value}
              taken={isTaken}
            />
          )}
          {pose && <LayersOfPart part={part} rotation={pose.rotation} printer={base.printer} />}
          {below}
        </>
      }
    />
  );
}
