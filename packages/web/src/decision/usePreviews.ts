import { useEffect, useRef, useState } from 'react';
import type { ErrorBody, StepView } from '@jasmorphe/contracts/views';
import { api, useJobsQuery, usePreviewMutation, wordsOf, type Planned } from '../app/api.ts';
import { useAppDispatch } from '../app/store.ts';

export type Preview =
  | { state: 'idle' }
  | { state: 'working'; jobId: string | null; progress: number; phase: string }
  | { state: 'ready'; step: StepView }
  | { state: 'failed'; error: ErrorBody['error'] };

type Held = { key: string; jobId: string | null; step: StepView | null; error: ErrorBody['error'] | null };

/**
 * Works out what each option would give, on the server and without adding it. Options that the server knows already
 * answer at once; the others follow as their jobs end.
 *
 * @param options null entries are not asked for
 */
export function usePreviews(bodyId: string, meshHash: string, options: (Planned | null)[]): Preview[] {
  const dispatch = useAppDispatch();
  const [preview] = usePreviewMutation();
  const { data: jobs = [] } = useJobsQuery();
  const [held, setHeld] = useState<Record<string, Held>>({});
  const asked = useRef(new Set<string>());
  const keys = options.map((o) => (o ? `${bodyId}|${meshHash}|${o.operation}|${JSON.stringify(o.params)}` : ''));
  const wanted = keys.join('\n');
  useEffect(() => {
    const timer = setTimeout(() => {
      options.forEach((option, i) => {
        const key = keys[i];
        if (!option || asked.current.has(key)) return;
        asked.current.add(key);
        void preview({ bodyId, ...option }).then((answer) => {
          const put = (h: Partial<Held>) =>
            setHeld((all) => ({ ...all, [key]: { key, jobId: null, step: null, error: null, ...h } }));
          if (answer.error) put({ error: wordsOf(answer.error) });
          else if (answer.data && 'report' in answer.data) put({ step: answer.data });
          else put({ jobId: answer.data!.id });
        });
      });
    }, 350);
    return () => clearTimeout(timer);
    // the keys say all that the options say
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, bodyId, preview]);
  useEffect(() => {
    for (const h of Object.values(held)) {
      if (!h.jobId || h.step || h.error) continue;
      const job = jobs.find((j) => j.id === h.jobId);
      if (!job) continue;
      if (job.state === 'failed')
        setHeld((all) => ({
          ...all,
          [h.key]: { ...h, error: job.error ?? { code: 'cannot', message: 'This could not be worked out.', hint: '' } },
        }));
      if (job.state === 'cancelled')
        setHeld((all) => ({
          ...all,
          [h.key]: { ...h, error: { code: 'cancelled', message: 'Cancelled.', hint: '' } },
        }));
      if (job.state === 'done' && job.result?.stepId)
        void dispatch(api.endpoints.step.initiate(job.result.stepId)).then(
          ({ data }) => data && setHeld((all) => ({ ...all, [h.key]: { ...h, step: data } })),
        );
    }
  }, [jobs, held, dispatch]);
  return options.map((o, i) => {
    const h = held[keys[i]];
    if (!o) return { state: 'idle' };
    if (!h) return { state: 'working', jobId: null, progress: 0, phase: 'Waiting' };
    if (h.step) return { state: 'ready', step: h.step };
    if (h.error) return { state: 'failed', error: h.error };
    const job = jobs.find((j) => j.id === h.jobId);
    return { state: 'working', jobId: h.jobId, progress: job?.progress ?? 0, phase: job?.phase ?? 'Waiting' };
  });
}

/** The report of a preview that is ready, typed by the caller. */
export const reportOf = <R>(p: Preview | undefined): R | null => (p?.state === 'ready' ? (p.step.report as R) : null);
