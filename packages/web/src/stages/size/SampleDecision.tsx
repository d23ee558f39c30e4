import { useEffect, useState } from 'react';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { useNavigate } from 'react-router';
import type { SampleReport } from '@jasmorphe/core/operations/sample/describe';
import { figures } from '@jasmorphe/core/trade/figures';
import { useMakeSampleMutation, wordsOf } from '../../app/api.ts';
import { fixed, massText } from '@jasmorphe/core/words/numbers';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { isOpen, useJob } from '../../app/useJobs.ts';
import { useLength, useSpeaker } from '../../app/useLength.ts';
import { askForPoints } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ParamFields, ParamLength } from '../../forms/ParamFields.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { BackToSize, type StudyProps } from './BackToSize.tsx';

/** Printed within the hour on most printers, mm across. Common practice. */
const usualMm = 60;

/** What shall be printed first? */
export function SampleDecision({ body, onClose }: StudyProps) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const length = useLength();
  const say = useSpeaker();
  const { size } = body.mesh.facts;
  const longest = Math.max(size.x, size.y, size.z);
  const form = useParamsForm(catalogue.sample.params, {
    largest: Math.min(usualMm, longest),
    across: Math.min(usualMm, longest / 3),
  });
  const { largest, across } = form.values;
  const [chosen, setChosen] = useState(0);
  const at = useAppSelector((s) => s.bench.points[0]);
  const [make, making] = useMakeSampleMutation();
  const [jobId, setJobId] = useState<string | null>(null);
  const job = useJob(jobId);
  useEffect(() => {
    dispatch(askForPoints(1));
    return () => void dispatch(askForPoints(0));
  }, [dispatch]);
  const madeId = job?.state === 'done' ? job.result?.bodyId : undefined;
  useEffect(() => {
    if (madeId) void navigate(`/project/${body.projectId}/size?model=${madeId}`);
  }, [madeId, body.projectId, navigate]);
  const params = [{ largest }, at ? { at, across } : null];
  const previews = usePreviews(
    body.id,
    body.mesh.hash,
    params.map((p) => p && ask(catalogue.sample, p)),
  );
  const reports = previews.map((p) => reportOf(p, catalogue.sample));
  const density = figures.filamentDensityGCm3.value;
  const row = (label: string, of: (r: SampleReport) => string) => ({
    label,
    cells: reports.map((r) => (r ? of(r) : null)),
  });
  return (
    <Decision
      step="Test piece"
      question="What shall be printed first?"
      lead="One small print before the weeks: it becomes a model of its own, and this one stays as it is."
      options={[
        { name: 'Small copy', preview: previews[0] },
        { name: 'A region', preview: previews[1] },
      ]}
      rows={[
        row('Factor', (r) => `×${fixed(r.factor, 3)}`),
        row('Width', (r) => length(r.size.x, false)),
        row('Depth', (r) => length(r.size.y, false)),
        row('Height', (r) => length(r.size.z, false)),
        row('Volume, solid', (r) => say.volume(r.volumeMm3)),
        row('Mass, solid', (r) => massText((r.volumeMm3 / 1000) * density)),
        row('of the whole', (r) => `${fixed(r.sharePct, r.sharePct < 1 ? 3 : 1)} %`),
      ]}
      chosen={chosen}
      onChoose={setChosen}
      advised={null}
      advice={
        making.error || job?.error ? (
          <>
            <b>{(job?.error ?? wordsOf(making.error)).message}</b> {(job?.error ?? wordsOf(making.error)).hint}
          </>
        ) : chosen === 1 && !at ? (
          'Click the model where the region shall be: the worst overhang, the finest detail, a joint.'
        ) : (
          'A small copy shows the shape; a region at full size shows walls, joints and surface as they will be.'
        )
      }
      fields={
        <ParamFields of={form}>
          <ParamLength name="largest" label="Longest side of the copy" />
          <ParamLength name="across" label="Region across" />
        </ParamFields>
      }
      action={{
        label: 'Make the test piece',
        disabled: making.isLoading || params[chosen] === null || (job !== undefined && isOpen(job)),
        run: () =>
          void make({ bodyId: body.id, params: params[chosen]! })
            .unwrap()
            .then(
              (j) => setJobId(j.id),
              () => undefined,
            ),
      }}
      foot={<BackToSize onClose={onClose} />}
      busy={body.busyJobId !== null}
    />
  );
}
