import Button from '@mui/material/Button';
import { useState, type ReactNode } from 'react';
import { gluedFaces, poseAfter } from '@jasmorphe/contracts/reading/poses';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { isSamePose, whyOf } from '@jasmorphe/core/operations/pose/why';
import { takenOf } from '@jasmorphe/core/operations/pose/describe';
import { schoolNames } from '@jasmorphe/core/planning/pose/schools';
import { isPrinting, liesStill } from '@jasmorphe/core/planning/printState';
import { useBodyQuery, useRunStepMutation, wordsOf } from '../../app/api.ts';
import { useAppSelector } from '../../app/store.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { Decision } from '../../decision/Decision.tsx';
import { rowsOf } from '../../decision/rowsOf.tsx';
import { LengthField, NumberField } from '../../forms/Fields.tsx';
import { PrinterField } from '../../forms/PrinterField.tsx';
import { BesidePose } from './BesidePose.tsx';
import { poseParams, printerOfPart } from './poseParams.ts';
import { useBare } from './useBare.ts';
import { useBrim } from './useBrim.ts';
import { alone, usePoses, useShownPose, type Pose } from './usePoses.ts';

/** Turning by degrees, or onto a face that is picked. */
function TurnByHand({ leaning, lean, face, pose }: ReturnType<typeof usePoses>) {
  const tooFar = (deg: number | undefined) => (deg !== undefined && Math.abs(deg) > 180 ? 'at most 180' : null);
  return (
    <>
      <NumberField
        label="Lean back"
        hint="degrees; its top goes away from you"
        value={leaning?.backDeg ?? 0}
        onChange={(v) => lean({ backDeg: v ?? 0 })}
        refused={tooFar(leaning?.backDeg)}
      />
      <NumberField
        label="Lean to the right"
        hint="degrees"
        value={leaning?.rightDeg ?? 0}
        onChange={(v) => lean({ rightDeg: v ?? 0 })}
        refused={tooFar(leaning?.rightDeg)}
      />
      <Button variant="text" aria-pressed={face.asking} disabled={!pose} onClick={face.toggle}>
        {face.asking ? 'Click the face on the bench …' : 'Lay it on a face …'}
      </Button>
    </>
  );
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
  const say = useSpeaker();
  const unit = useAppSelector((s) => s.ui.unit);
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
  const poses = usePoses(part, base, takenPose);
  const { found, turned, report, columns, advised, chosen, pose, pick } = poses;
  const outside = pose !== null && !pose.fits && report !== null && report.fits;
  // for another printer it is laid anew: its hours are others
  const samePrinter = JSON.stringify(taken?.params.printer) === JSON.stringify(base.printer);
  const isTaken = pose !== null && takenPose !== null && isSamePose(pose, takenPose) && samePrinter && bare.asTaken;
  useShownPose(part, report, pose, isTaken, printer?.profile.overhangDeg ?? 45);
  const fixed = liesStill(part);
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
  const advice = (): ReactNode => {
    if (fixed)
      return `${part.tag} ${isPrinting(part) ? 'is on the bed as it lies' : 'stopped as it lies'}. Say at Print how that ended before it is laid otherwise.`;
    if (sending.error)
      return (
        <>
          <b>{wordsOf(sending.error).message}</b> {wordsOf(sending.error).hint}
        </>
      );
    if (!report || !pose) return 'Poses all round are being tried.';
    return (
      <>
        {whyOf(pose, report.poses, say)}
        {catalogue.pose
          .findings!.of(new catalogue.pose.params(), alone(report, pose))
          // that it reaches beyond the bed is said above
          .filter((f) => f.kind === 'topples' || f.kind === 'cup')
          .map((f) => (
            <span key={f.key}>
              <br />
              {findingSentence(f, unit)}
            </span>
          ))}
      </>
    );
  };
  return (
    <Decision
      step={`Lay out ${part.tag}`}
      question={`How does ${part.tag} lie?`}
      lead={
        printer
          ? `On ${printer.profile.name}, layers of ${say.fine(printer.profile.layerMm, 2)}${resin ? ', resin' : ''}. The bench shows the one that is picked; what leans out too far is ochre.`
          : 'By usual settings of filament; add your printers at the workshop.'
      }
      options={
        report
          ? columns.map((c) => ({ name: c.name, taken: c.taken, ...(c.id === 'own' ? { preview: turned } : {}) }))
          : [{ name: schoolNames.best, preview: found }]
      }
      rows={rowsOf(
        catalogue.pose,
        report ? columns.map((c) => c.pose && alone(report, c.pose)) : [null],
        { ...say, liquid: resin },
        { leave: ['Pose', 'Up'] },
      )}
      chosen={report ? chosen : 0}
      onChoose={(i) => pick(columns[i]?.id ?? null)}
      advised={advised >= 0 ? advised : null}
      tight
      advice={advice()}
      fields={
        <>
          <PrinterField printers={printers} value={printer?.id} onChange={setOther} />
          {printer && !resin && (
            <LengthField
              label="Brim"
              hint="around what stands on the bed; 0: none"
              mm={brim.brimMm}
              onChange={(mm) => mm !== null && brim.setBrim(mm)}
            />
          )}
          <TurnByHand {...poses} />
        </>
      }
      action={{
        label: isTaken ? `${part.tag} lies so` : `Lay ${part.tag} so`,
        disabled: sending.isLoading || fixed || pose === null || isTaken || outside,
        run: () => pose && lays(pose),
      }}
      busy={own?.busyJobId != null || body.busyJobId !== null}
      below={
        <>
          <BesidePose
            part={part}
            body={body}
            own={own}
            poses={poses}
            printer={brim.printer}
            asked={base}
            bare={bare}
            drafts={drafts}
            taken={isTaken}
            fixed={fixed}
          />
          {below}
        </>
      }
    />
  );
}
