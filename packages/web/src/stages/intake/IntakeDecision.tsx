import Button from '@mui/material/Button';
import { useState } from 'react';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { useLocation, useNavigate } from 'react-router';
import type { BodyView } from '@jasmorphe/contracts/views';
import { lengthUnits, mmPerStatedUnit, type StatedUnit } from '@jasmorphe/core/formats/units';
import type { FileWords } from '@jasmorphe/core/formats/threeMf';
import type { ImportReport } from '@jasmorphe/core/operations/import/describe';
import { useImportAgainMutation } from '../../app/api.ts';
import { useLength, useSpeaker } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { laterWords } from '../laterSteps.ts';
import { ownStep, type StageProps } from '../Stage.ts';
import { useStep } from '../useStep.ts';
import { Block, Swatch } from '../../ui/layout.ts';

/** Which unit do the numbers of the file stand for? */
export function IntakeDecision({ body }: StageProps) {
  const length = useLength();
  const say = useSpeaker();
  const { run, applied, sending, stake } = useStep(body, catalogue.import);
  const navigate = useNavigate();
  const { search } = useLocation();
  const report = applied?.step.report;
  const [picked, setPicked] = useState<StatedUnit | null>(null);
  if (!report) return null;
  // the usual ones, and what the file states
  const options: StatedUnit[] = lengthUnits.filter((u) => u !== 'ft' || report.fileUnit === 'ft');
  if (report.fileUnit === 'micron') options.unshift('micron');
  const unit = picked ?? report.unit;
  const chosen = Math.max(0, options.indexOf(unit));
  const largest = Math.max(report.fileSize.x, report.fileSize.y, report.fileSize.z);
  const row = (label: string, of: (k: number) => string) => ({
    label,
    cells: options.map((u) => of(mmPerStatedUnit[u])),
  });
  return (
    <Decision
      step="Intake"
      question="How large is one unit of the file?"
      lead={
        report.fileUnit
          ? `The file states its unit: ${report.fileUnit}. Take another one only if the size is plainly wrong.`
          : 'STL, OBJ and PLY carry no unit, so it is guessed from the size.'
      }
      options={options.map((name) => ({ name, taken: name === report.unit }))}
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
          {length(largest * mmPerStatedUnit[report.unit])}.
        </>
      }
      action={{
        label: unit === report.unit ? 'This is right' : `Take it as ${unit}`,
        disabled: sending,
        // a guess is made certain; what is certain needs no step, and one goes on
        run: () =>
          unit === report.unit && report.unitFrom !== 'guess'
            ? void navigate(`/project/${body.projectId}/mend${search}`)
            : // what only a file can state is taken by reading the file's own
              run({ unit: unit === report.fileUnit || unit === 'micron' ? 'auto' : unit }),
      }}
      below={
        <>
          {report.objects.length > 1 && <ObjectsNote body={body} count={report.objects.length} />}
          {report.words && <FileWordsNote words={report.words} objects={report.objects} />}
        </>
      }
      foot={body.line.length > 1 ? laterWords(body, applied.index, say) : 'Size it properly at the third stop.'}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}

/** A file of several objects: they stand apart as models, or together as one, and may be had the other way as well. */
function ObjectsNote({ body, count }: { body: BodyView; count: number }) {
  const [again, { isLoading }] = useImportAgainMutation();
  const apart = ownStep(body, catalogue.import)?.step.params.object !== undefined;
  return (
    <p className="quiet">
      The file keeps {count} objects apart. {apart ? 'Each is a model of its own.' : 'Here they are one model.'}{' '}
      <Button
        variant="text"
        disabled={isLoading}
        onClick={() => void again({ bodyId: body.id, objects: apart ? 'together' : 'apart' })}
      >
        {apart ? 'Add them as one model too' : 'Add each as a model too'}
      </Button>
    </p>
  );
}

/** What the file says of itself: title, designer, terms, colours. */
function FileWordsNote({ words, objects }: { words: FileWords; objects: ImportReport['objects'] }) {
  const colours = [...new Set(objects.map((o) => o.colour).filter((c) => c !== null))];
  if (!words.title && !words.designer && !words.licence && colours.length === 0) return null;
  return (
    <Block>
      <div className="label">The file says</div>
      {(words.title || words.designer) && (
        <p>
          <b>{words.title || 'Untitled'}</b>
          {words.designer && ` by ${words.designer}`}
        </p>
      )}
      {words.licence && <p className="quiet">{words.licence}</p>}
      {colours.length > 0 && (
        <p>
          {colours.slice(0, 12).map((c) => (
            <Swatch key={c} style={{ background: c }} title={c} />
          ))}{' '}
          {colours.length} {colours.length === 1 ? 'colour' : 'colours'}
        </p>
      )}
    </Block>
  );
}
