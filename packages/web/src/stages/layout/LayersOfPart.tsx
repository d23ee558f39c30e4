import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import { useEffect, useState } from 'react';
import type { PartView } from '@jasmorphe/contracts/views';
import { catalogue, type ParamsOf, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { countOf, fixed, secondsText, whole } from '@jasmorphe/core/words/numbers';
import { lazyPart } from '../../app/Boundary.tsx';
import { useAppDispatch } from '../../app/store.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { showUpTo } from '../../bench/benchSlice.ts';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { FigureTable } from '../../ui/FigureTable.tsx';
import { JobPhase } from '../../jobs/JobProgress.tsx';
import { Note } from '../../ui/Note.tsx';
import { Block } from '../../ui/layout.ts';

const LayersChart = lazyPart(() => import('./LayersChart.tsx'));

type Report = ReportOf<'layers'>;

/** The layer that is looked at, its figures, and a way to go through all of them. */
function Look({ report, part }: { report: Report; part: PartView }) {
  const dispatch = useAppDispatch();
  const say = useSpeaker();
  const { length } = say;
  const [at, setAt] = useState(() => Math.floor(report.shown.length / 2));
  const shown = report.shown[Math.min(at, report.shown.length - 1)];
  const { zMm, layer, areaMm2, perimeterMm, durationS } = shown;
  useEffect(
    () => void dispatch(showUpTo({ partId: part.id, mm: zMm + report.layerMm / 2 })),
    [zMm, report.layerMm, part.id, dispatch],
  );
  useEffect(() => () => void dispatch(showUpTo(null)), [dispatch]);
  return (
    <>
      <LayersChart report={report} at={at} onLook={setAt} />
      <Slider
        size="small"
        min={0}
        max={report.shown.length - 1}
        value={at}
        aria-label="Layer"
        getAriaValueText={() => `layer ${layer + 1}`}
        onChange={(_e, value) => setAt(value)}
      />
      <p data-testid="layer">
        <b>
          Layer {whole(layer + 1)} of {whole(report.layers)}
        </b>{' '}
        {length(zMm)} up: {say.area(areaMm2)}, outline {length(perimeterMm)}, {secondsText(durationS)}.
      </p>
      {report.fast.length > 0 && (
        <Note tone="advice">
          Too fast to set: {report.fast.map((f) => `${length(f.fromMm)} to ${length(f.toMm)}`).join(', ')}; a layer
          takes as little as {fixed(Math.min(...report.fast.map((f) => f.leastS)), 1)} s. Print slower there, or two at
          once.
        </Note>
      )}
    </>
  );
}

/** Layers that are thin where the skin leans and thick where it stands upright. */
function Heights({ report }: { report: Report }) {
  const say = useSpeaker();
  const { length } = say;
  const { variable } = report;
  if (!variable) return <p className="quiet">Layers of other heights would gain nothing.</p>;
  const saved = variable.evenS - variable.durationS;
  return (
    <>
      <p>
        Heights by slope: {secondsText(Math.abs(saved))} {saved >= 0 ? 'less' : 'more'}, highest step{' '}
        {say.fine(variable.stepMm, 2)} for {say.fine(variable.evenStepMm, 2)}. To be set by hand in your layer program:
      </p>
      <FigureTable
        label="Heights by slope"
        heads={['From', 'To', 'Layer']}
        rows={variable.zones.map((z) => ({
          key: `${z.fromMm}`,
          cells: [length(z.fromMm), length(z.toMm), say.fine(z.layerMm)],
        }))}
      />
    </>
  );
}

/** The layers of a part as it lies: one by one on the bench, by their areas, with heights that suit its slopes. */
export function LayersOfPart({
  part,
  rotation,
  printer,
}: {
  part: PartView;
  rotation: number[][];
  printer: ParamsOf<'layers'>['printer'];
}) {
  const say = useSpeaker();
  const [open, setOpen] = useState(false);
  const params = { rotation: rotation as ParamsOf<'layers'>['rotation'], ...(printer ? { printer } : {}) };
  const [found] = usePreviews(part.id, part.mesh.hash, [open ? ask(catalogue.layers, params) : null]);
  const report = reportOf(found, catalogue.layers);
  return (
    <Block aria-label="Layers">
      <div className="label">Layers</div>
      {report && (
        <p className="figure">
          {countOf(report.layers, 'layer')}, the largest {say.area(report.maxAreaMm2)}
          {report.islands.length > 0 && `, ${countOf(report.islands.length, 'place')} in mid-air`}
        </p>
      )}
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Close the layers' : 'Look through the layers'}
      </Button>
      {open && found.state === 'working' && <JobPhase jobId={found.jobId} before="Waiting" />}
      {open && found.state === 'failed' && (
        <Note tone="failure">
          <b>{found.error.message}</b> {found.error.hint}
        </Note>
      )}
      {open && report && (
        <>
          <Look key={`${report.heightMm}`} report={report} part={part} />
          <Heights report={report} />
        </>
      )}
    </Block>
  );
}
