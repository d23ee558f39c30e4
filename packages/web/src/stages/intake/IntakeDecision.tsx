import { useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { BodyView } from '@jasmorphe/contracts/views';
import { lengthUnits, mmPerUnit, type LengthUnit } from '@jasmorphe/core/formats/units';
import type { ImportReport } from '@jasmorphe/core/operations/import/importMesh';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { laterWords } from '../laterSteps.ts';
import { useStep } from '../useStep.ts';

/** Which unit do the numbers of the file stand for? */
export function IntakeDecision({ body }: { body: BodyView }) {
  const length = useLength();
  const { run, applied, sending, stake } = useStep(body, 'intake', 'import');
  const navigate = useNavigate();
  const { search } = useLocation();
  const report = applied?.step.report as ImportReport | undefined;
  const [picked, setPicked] = useState<LengthUnit | null>(null);
  if (!report) return null;
  const options: LengthUnit[] = lengthUnits.filter((u) => u !== 'ft');
  const unit = picked ?? report.unit;
  const chosen = Math.max(0, options.indexOf(unit));
  const largest = Math.max(report.fileSize.x, report.fileSize.y, report.fileSize.z);
  const row = (label: string, of: (k: number) => string) => ({ label, cells: options.map((u) => of(mmPerUnit[u])) });
  return (
    <Decision
      step="Intake"
      question="How large is one unit of the file?"
      lead={
        report.format === '3mf'
          ? 'The file states its unit. Take another one only if the size is plainly wrong.'
          : 'STL, OBJ and PLY carry no unit, so it is guessed from the size.'
      }
      options={options.map((name) => ({ name }))}
      rows={[
        row('Width', (k) => length(report.fileSize.x * k, false)),
        row('Depth', (k) => length(report.fileSize.y * k, false)),
        row('Height', (k) => length(report.fileSize.z * k, false)),
      ]}
      chosen={chosen}
      onChoose={(i) => setPicked(options[i])}
      advised={options.indexOf(report.unit)}
      advice={
        <>
          <b>{report.unit} was taken</b>: {report.unitReason}. The largest side is{' '}
          {length(largest * mmPerUnit[report.unit])}.
        </>
      }
      action={{
        label: unit === report.unit ? 'This is right' : `Take it as ${unit}`,
        disabled: sending,
        // a guess is made certain; what is certain needs no step, and one goes on
        run: () =>
          unit === report.unit && report.unitFrom !== 'guess'
            ? void navigate(`/project/${body.projectId}/mend${search}`)
            : run({ ...applied!.step.params, unit }),
      }}
      foot={body.line.length > 1 ? laterWords(body, applied!.index, length) : 'Size it properly at the third stop.'}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
