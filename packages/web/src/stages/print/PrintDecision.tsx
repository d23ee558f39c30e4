import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { BodyView, LogEntryView, PartView } from '@jasmorphe/contracts/views';
import type { RecutReport } from '@jasmorphe/core/operations/recut/recut';
import { figures } from '@jasmorphe/core/trade/figures';
import {
  useAddLogMutation,
  useBodyQuery,
  useLogQuery,
  useMoveLineMutation,
  useRunStepMutation,
} from '../../app/api.ts';
import { fixed, massText, volumeText, whole } from '../../app/figures.ts';
import { useLength } from '../../app/useLength.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { pickPart } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { LengthField } from '../../decision/Fields.tsx';
import { reportOf, usePreviews } from '../../decision/usePreviews.ts';

const outcomeWords: Record<LogEntryView['outcome'], string> = {
  started: 'started',
  passed: 'looks right',
  failed: 'stopped',
};

function Recut({ part, body }: { part: PartView; body: BodyView }) {
  const length = useLength();
  const { data: own } = useBodyQuery(part.id);
  const [runStep, { isLoading }] = useRunStepMutation();
  const [move] = useMoveLineMutation();
  const [printed, setPrinted] = useState(part.failedAtMm ?? part.mesh.facts.size.z / 2);
  const [layer, setLayer] = useState<number>(figures.layerMm.value);
  const [chosen, setChosen] = useState(0);
  const applied = own?.line.slice(0, own.cursor).findLast((s) => s.operation === 'recut');
  const options = [0, 2, 10].map((layers) => ({ printed, layer, backOff: Number((layers * layer).toFixed(4)) }));
  const previews = usePreviews(
    part.id,
    part.mesh.hash,
    options.map((params) => (applied ? null : { operation: 'recut', params })),
  );
  const reports = applied ? [applied.report as RecutReport, null, null] : previews.map((p) => reportOf<RecutReport>(p));
  const cell = (of: (r: RecutReport) => string) => reports.map((r) => (r ? of(r) : null));
  const broadest = reports.reduce(
    (best, r, i) => (r && r.contactAreaMm2 > 1.25 * (reports[best]?.contactAreaMm2 ?? 0) ? i : best),
    0,
  );
  if (applied)
    return (
      <section className="decision" aria-label="Decision">
        <div className="label accent">{part.tag} recut</div>
        <h2 className="question">The missing piece is cut</h2>
        <p className="lead">
          Cut at {length((applied.report as RecutReport).cutAtMm)}, {whole((applied.report as RecutReport).layersKept)}{' '}
          layers kept. {length((applied.report as RecutReport).remainingHeightMm)} remain,{' '}
          {volumeText((applied.report as RecutReport).remainingVolumeMm3)}.
        </p>
        <div className="warningBox advice">
          Print it cut face down. Roughen both faces with coarse paper, glue, and weight it down for about 30 min.
        </div>
        <div className="actions">
          <Button variant="contained" href={`/api/bodies/${part.id}/export?format=3mf`}>
            Fetch {part.tag} as 3MF
          </Button>
          <Button
            variant="outlined"
            disabled={!own?.canUndo}
            onClick={() => void move({ bodyId: part.id, way: 'undo' })}
          >
            Undo the recut
          </Button>
        </div>
      </section>
    );
  return (
    <Decision
      step={`${part.tag} stopped`}
      question="What can be saved?"
      lead="Measure what stands with calipers. The cut goes on the layer boundary below, and the rest is printed cut face down."
      options={[
        { name: 'There', preview: previews[0] },
        { name: '2 lower', preview: previews[1] },
        { name: '10 lower', preview: previews[2] },
      ]}
      rows={[
        { label: 'Cut at', cells: cell((r) => length(r.cutAtMm)), method: 'whole layers from the bed' },
        { label: 'Layers kept', cells: cell((r) => whole(r.layersKept)) },
        { label: 'Still to print', cells: cell((r) => length(r.remainingHeightMm)) },
        { label: 'Volume', cells: cell((r) => volumeText(r.remainingVolumeMm3)) },
        {
          label: 'Mass',
          cells: cell((r) => massText((r.remainingVolumeMm3 / 1000) * figures.filamentDensityGCm3.value)),
        },
        { label: 'Glue face', cells: cell((r) => `${fixed(r.contactAreaMm2 / 100, 1)} cm²`) },
        {
          label: 'In areas',
          cells: cell((r) => whole(r.islandsAtCut)),
          method: 'separate areas of the cut, each glued by itself',
        },
      ]}
      chosen={chosen}
      onChoose={setChosen}
      advised={broadest}
      advice={
        broadest === 0
          ? 'The highest sound layer loses the least. Go lower if the last layers look doubtful.'
          : 'Lower down the face is broader and glues better.'
      }
      fields={
        <>
          <LengthField label="Stands, by calipers" mm={printed} onChange={(v) => v && setPrinted(v)} />
          <LengthField label="Layer" hint={figures.layerMm.reason} mm={layer} onChange={(v) => v && setLayer(v)} />
        </>
      }
      action={{
        label: `Recut ${part.tag}`,
        disabled: isLoading || reports[chosen] === null,
        run: () => void runStep({ bodyId: part.id, operation: 'recut', params: options[chosen] }),
      }}
      busy={own?.busyJobId != null || body.busyJobId !== null}
    />
  );
}

/** One part at the machine: start, looks right, stopped at a height. */
function AtTheMachine({ part, body }: { part: PartView; body: BodyView }) {
  const length = useLength();
  const [add, { isLoading }] = useAddLogMutation();
  const [height, setHeight] = useState<number | null>(null);
  const { size } = part.mesh.facts;
  const say = (outcome: string, heightMm?: number) =>
    void add({ projectId: body.projectId, partId: part.id, outcome, heightMm });
  const middle = height ?? size.z / 2;
  return (
    <section className="decision machine" aria-label="At the machine">
      <div className="label accent">
        {part.state === 'printing' ? 'Printing' : part.state === 'printed' ? 'Printed' : 'To print'}
      </div>
      <h2 className="partName">{part.tag}</h2>
      <p className="figure">
        {length(size.x, false)} × {length(size.y, false)} × {length(size.z)} ·{' '}
        {volumeText(part.mesh.facts.volumeMm3 ?? 0)}
      </p>
      {part.state === 'planned' && (
        <Button variant="contained" className="big" disabled={isLoading} onClick={() => say('started')}>
          It is started
        </Button>
      )}
      {part.state === 'printing' && (
        <>
          <div className="bigPair">
            <Button variant="outlined" className="big" disabled={isLoading} onClick={() => say('passed')}>
              Looks right
            </Button>
            <Button
              variant="contained"
              color="error"
              className="big"
              disabled={isLoading}
              onClick={() => say('failed', Number(middle.toFixed(2)))}
            >
              It stopped
            </Button>
          </div>
          <LengthField label="Stopped at, by calipers" mm={Number(middle.toFixed(2))} onChange={(v) => setHeight(v)} />
        </>
      )}
      {part.state === 'printed' && (
        <Button variant="outlined" disabled={isLoading} onClick={() => say('started')}>
          Print it again
        </Button>
      )}
      <Button variant="text" href={`/api/bodies/${part.id}/export?format=3mf`}>
        Fetch {part.tag} as 3MF
      </Button>
      <p className="foot">Unattended or overnight only with working thermal protection and a smoke alarm.</p>
    </section>
  );
}

/** The print stop: states of the parts, the log, and what to do with a part that stopped. */
export function PrintDecision({ body }: { body: BodyView }) {
  const dispatch = useAppDispatch();
  const partId = useAppSelector((s) => s.bench.partId);
  const { data: log = [] } = useLogQuery(body.projectId);
  const length = useLength();
  const failed = body.parts.find((p) => p.state === 'failed');
  const part =
    body.parts.find((p) => p.id === partId) ??
    failed ??
    body.parts.find((p) => p.state === 'printing') ??
    body.parts[0];
  const first = failed?.id;
  useEffect(() => {
    if (!partId && first) dispatch(pickPart(first));
  }, [first, partId, dispatch]);
  if (!part)
    return (
      <section className="decision" aria-label="Decision">
        <div className="label accent">Print</div>
        <h2 className="question">There is nothing to print yet</h2>
        <p className="lead" data-testid="later">
          Divide the model into parts that fit a bed; each part is then started, passed or stopped at a height here.
        </p>
      </section>
    );
  return (
    <>
      {part.state === 'failed' ? (
        <Recut key={part.id} part={part} body={body} />
      ) : (
        <AtTheMachine key={part.id} part={part} body={body} />
      )}
      <div className="logList">
        <div className="label">Print log</div>
        {log.length === 0 && <p className="quiet">Nothing printed yet.</p>}
        {log.slice(0, 12).map((e) => (
          <p key={e.id} className={e.outcome}>
            <b>{e.tag}</b> {outcomeWords[e.outcome]}
            {e.heightMm !== null && ` at ${length(e.heightMm)}`}
            <span className="figure"> {e.at.slice(0, 10)}</span>
            {e.note && <small> {e.note}</small>}
          </p>
        ))}
      </div>
    </>
  );
}
