import { useCallback, useEffect, useRef, useState } from 'react';
import { isStepOf, type StepView } from '@jasmorphe/contracts/steps';
import type { ErrorBody, JobView } from '@jasmorphe/contracts/views';
import type { OperationName, ParamsOf, ReportOf } from '@jasmorphe/core/operations/catalogue';
import { api, useJobsQuery, usePreviewMutation, wordsOf, type Asked } from '../app/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';

export type Preview =
  | { state: 'idle' }
  | { state: 'working'; jobId: string | null; progress: number; phase: string }
  | { state: 'ready'; step: StepView }
  /** `again` asks once more */
  | { state: 'failed'; error: ErrorBody['error']; again: () => void };

/** What is known of one question: the job that works it out, or its answer. */
type Held = { jobId: string } | { step: StepView } | { error: ErrorBody['error'] } | 'not known';

/** How a job that has ended answers; null while it has not. */
function endOf(job: JobView): Held | { stepId: string } | null {
  if (job.state === 'failed')
    return { error: job.error ?? { code: 'cannot', message: 'This could not be worked out.', hint: '' } };
  if (job.state === 'cancelled')
    return { error: { code: 'cancelled', message: 'Stopped before it was done.', hint: '' } };
  if (job.state === 'done' && job.result?.stepId) return { stepId: job.result.stepId };
  return null;
}

/**
 * Works out what each option would give, on the server and without adding it. Options that the server knows already
 * answer at once; the others follow as their jobs end.
 *
 * @param options null entries are not asked for
 */
export function usePreviews(bodyId: string, meshHash: string, options: (Asked | null)[]): Preview[] {
  const dispatch = useAppDispatch();
  const [preview] = usePreviewMutation();
  const { data: jobs } = useJobsQuery();
  const [held, setHeld] = useState<Record<string, Held>>({});
  const [round, setRound] = useState(0);
  const asked = useRef(new Set<string>());
  const looked = useRef(new Set<string>());
  const keys = options.map((o) => (o ? `${bodyId}|${meshHash}|${JSON.stringify(o)}` : ''));
  const wanted = keys.join('\n');
  const put = useCallback((key: string, h: Held) => setHeld((all) => ({ ...all, [key]: h })), []);
  const again = useCallback((key: string) => {
    asked.current.delete(key);
    setHeld(({ [key]: _, ...others }) => others);
    setRound((n) => n + 1);
  }, []);
  useEffect(() => {
    const timer = setTimeout(() => {
      options.forEach((option, i) => {
        const key = keys[i];
        if (!option || asked.current.has(key)) return;
        asked.current.add(key);
        void preview({ bodyId, ...option }).then((answer) => {
          if (answer.error) put(key, { error: wordsOf(answer.error) });
          else if (!answer.data) put(key, 'not known');
          else put(key, 'report' in answer.data ? { step: answer.data } : { jobId: answer.data.id });
        });
      });
    }, 350);
    return () => clearTimeout(timer);
    // the keys say all that the options say
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, bodyId, preview, round]);
  const link = useAppSelector((s) => s.ui.link);
  useEffect(() => {
    if (link === 'down') return;
    // what failed for want of the server alone is asked again once it is back
    for (const [key, h] of Object.entries(held))
      if (h !== 'not known' && 'error' in h && h.error.code === 'unreachable') again(key);
    // only when the link changes: a request that fails while it is up must not be sent for ever
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [link]);
  useEffect(() => {
    const settle = (key: string, job: JobView) => {
      const end = endOf(job);
      if (!end) return;
      if (typeof end === 'object' && 'stepId' in end)
        void dispatch(api.endpoints.step.initiate(end.stepId)).then(({ data, error }) =>
          put(key, data ? { step: data } : { error: wordsOf(error) }),
        );
      else put(key, end);
    };
    for (const [key, h] of Object.entries(held)) {
      if (h === 'not known' || !('jobId' in h)) continue;
      const job = jobs?.find((j) => j.id === h.jobId);
      if (job) settle(key, job);
      // the list is of the newest: one that is not in it is asked for by itself, once for each list
      else if (jobs && !looked.current.has(h.jobId)) {
        looked.current.add(h.jobId);
        void dispatch(api.endpoints.job.initiate(h.jobId, { forceRefetch: true })).then(({ data, error }) => {
          if (data) settle(key, data);
          else if (error) put(key, { error: wordsOf(error) });
        });
      }
    }
  }, [jobs, held, dispatch, put]);
  return options.map((o, i): Preview => {
    const h = held[keys[i]];
    if (!o || h === 'not known') return { state: 'idle' };
    if (!h) return o.ifKnown ? { state: 'idle' } : { state: 'working', jobId: null, progress: 0, phase: 'Waiting' };
    if ('step' in h) return { state: 'ready', step: h.step };
    if ('error' in h) return { state: 'failed', error: h.error, again: () => again(keys[i]) };
    const job = jobs?.find((j) => j.id === h.jobId);
    return { state: 'working', jobId: h.jobId, progress: job?.progress ?? 0, phase: job?.phase ?? 'Waiting' };
  });
}

/** A question to the server: what would this operation give? */
export const ask = <N extends OperationName>(
  operation: { name: N },
  params: Partial<ParamsOf<N>>,
  more: Pick<Asked, 'after' | 'ifKnown'> = {},
): Asked => ({ operation: operation.name, params, ...more });

/** The report of a preview that is ready, if it is one of that operation. */
export const reportOf = <N extends OperationName>(
  p: Preview | undefined,
  operation: { name: N },
): ReportOf<N> | null => (p?.state === 'ready' && isStepOf(p.step, operation) ? p.step.report : null);
