import Button from '@mui/material/Button';
import { useEffect, useState, type ReactNode } from 'react';
import { adviceForPart } from '@jasmorphe/contracts/partAdvice';
import { gluedFaces, poseAfter } from '@jasmorphe/contracts/poses';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { isSamePose, whyOf } from '@jasmorphe/core/operations/pose/why';
import { takenOf } from '@jasmorphe/core/operations/pose/describe';
import { schoolNames } from '@jasmorphe/core/planning/pose/schools';
import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import { figures } from '@jasmorphe/core/trade/figures';
import { useBodyQuery, useRunStepMutation, wordsOf } from '../../app/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { showLie, tellStudied } from '../../bench/benchSlice.ts';
import { ByLog } from '../../days/ByLog.tsx';
import { RiskOf } from '../../days/RiskOf.tsx';
import { Decision, type OptionColumn } from '../../decision/Decision.tsx';
import { rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { LengthField, NumberField } from '../../forms/Fields.tsx';
import { PrinterField } from '../../forms/PrinterField.tsx';
import { Note } from '../../ui/Note.tsx';
import { AdviceOfPart } from './AdviceOfPart.tsx';
import { BareAndHidden } from './BareAndHidden.tsx';
import { LayersOfPart } from './LayersOfPart.tsx';
import { StopsOfPart } from './StopsOfPart.tsx';
import { TipsOfPart } from './TipsOfPart.tsx';
import { poseColumns, type ColumnId } from './poseColumns.ts';
import { poseParams, printerOfPart } from './poseParams.ts';
import { upOfTurned } from './turned.ts';
import { useBare } from './useBare.ts';
import { useBrim } from './useBrim.ts';
import { usePickedPlace } from '../../decision/usePickedPlace.ts';

type Report = ReportOf<'pose'>;
type Pose = Report['poses'][number];
type Point = [number, number, number];

/** What the maker turned by hand. */
type ByHand = { face: Point } | { from: number[][]; backDeg: number; rightDeg: number } | null;

/** A report of one pose alone, for the rows of the table. */
const alone = (report: Report, pose: Pose): Report => ({ ...report, poses: [pose], chosen: pose.school });

/** What is found goes by the report alone. */
const params0 = new catalogue.pose.params();

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
  const taken = poseAfter(part.line, part.cursor);
  const drafts = `${part.id} ${part.mesh.hash}`;
  const bare = useBare(drafts, part.posed ? taken : undefined);
  const brim = useBrim(printer, taken);
  const base = { ...poseParams(gluedFaces(body), brim.printer), ...bare.params };
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
  const { columns, advised, standing } = poseColumns({
    report,
    taken: takenPose,
    byHand: hand ? (turnedReport?.poses[0] ?? null) : undefined,
    picked,
  });
  const chosen = [columns.findIndex((c) => c.id === picked), standing, advised].find((i) => i >= 0) ?? 0;
  const pose = columns[chosen]?.pose ?? null;
  const outside = pose !== null && !pose.fits && report !== null && report.fits;
  // for another printer it is laid anew: its hours are others
  const samePrinter = JSON.stringify(taken?.params.printer) === JSON.stringify(base.printer);
  const isTaken = pose !== null && takenPose !== null && isSamePose(pose, takenPose) && samePrinter && bare.asTaken;
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
  const face = usePickedPlace('face', (at) => {
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
  const options: OptionColumn[] = report
    ? columns.map(({ id, name, taken: isIt }) => ({ name, taken: isIt, ...(id === 'own' ? { preview: turned } : {}) }))
    : [{ name: schoolNames.best, preview: found }];
  const reports: (Report | null)[] = report ? columns.map(({ pose: p }) => p && alone(report, p)) : [null];
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
      options={options}
      rows={rowsOf(catalogue.pose, reports, { length, liquid: resin }, { leave: ['Pose', 'Up'] })}
      chosen={report ? chosen : 0}
      onChoose={(i) => setPicked(columns[i]?.id ?? null)}
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
          {printer && !resin && (
            <LengthField
              label="Brim"
              hint="around what stands on the bed; 0: none"
              mm={brim.brimMm}
              onChange={(mm) => mm !== null && brim.setBrim(mm)}
            />
          )}
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
          {pose && (
            <ByLog
              printerId={printer?.id}
              seconds={pose.durationS}
              kind={printer?.profile.kind ?? 'filament'}
              colour={body.colour}
            />
          )}
          {pose && <RiskOf printerId={printer?.id} seconds={pose.durationS} />}
          {pose && <AdviceOfPart advice={adviceForPart(body, part, pose, brim.printer?.profile ?? {})} />}
          <BareAndHidden longestMm={longestOf(part.mesh.facts.size)} of={bare} />
          {pose && own && (
            <TipsOfPart
              part={part}
              own={own}
              rotation={pose.rotation}
              printer={base.printer}
              layerMm={printer?.profile.layerMm ?? figures.layerMm.value}
              bare={base.bare}
              taken={isTaken}
            />
          )}
          {pose && (
            <StopsOfPart
              drafts={drafts}
              part={part}
              rotation={pose.rotation}
              printer={base.printer}
              taken={isTaken}
              fixed={fixedNow}
            />
          )}
          {pose && <LayersOfPart part={part} rotation={pose.rotation} printer={base.printer} />}
          {below}
        </>
      }
    />
  );
}
