import { useEffect, useMemo, useState } from 'react';
import { shallowEqual } from 'react-redux';
import { isStepOf, type StepView } from '@jasmorphe/contracts/steps';
import type { ErrorBody } from '@jasmorphe/contracts/views';
import type { OperationName, ParamsOf, ReportOf } from '@jasmorphe/core/operations/catalogue';
import { wordsOf, type Asked } from '../app/api.ts';
import { lookAt } from '../app/looking.ts';
import { previewApi, type PreviewQuestion } from '../app/previewApi.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { useJobs } from '../app/useJobs.ts';

export type Preview =
  | { state: 'idle' }
  | { state: 'working'; jobId: string | null }
  | { state: 'ready'; step: StepView }
  /** `again` asks once more */
  | { state: 'failed'; error: ErrorBody['error']; again: () => void };

/** How long a question must stand before it is asked, ms: figures that are being typed pass by. */
const pauseMs = 350;

/** A value once it has stood still for a while. */
function useSettled<T>(value: T): T | null {
  const [settled, setSettled] = useState<T | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), pauseMs);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}

/**
 * Works out what each option would give, on the server and without adding it. Options that the server knows already
 * answer at once; the others follow as their jobs end.
 *
 * @param options null entries are not asked for
 */
export function usePreviews(bodyId: string, meshHash: string, options: (Asked | null)[]): Preview[] {
  const dispatch = useAppDispatch();
  // hears of their ends
  useJobs(() => null);
  const key = JSON.stringify(options.map((o) => o && { bodyId, meshHash, ...o }));
  const questions = useMemo(() => JSON.parse(key) as (PreviewQuestion | null)[], [key]);
  const settled = useSettled(questions);
  useEffect(() => {
    const asked = (settled ?? []).flatMap((q) => (q ? [dispatch(previewApi.endpoints.preview.initiate(q))] : []));
    return () => asked.forEach((a) => a.unsubscribe());
  }, [settled, dispatch]);
  const selectors = useMemo(() => questions.map((q) => q && previewApi.endpoints.preview.select(q)), [questions]);
  const held = useAppSelector((state) => selectors.map((select) => select && select(state)), shallowEqual);
  const working = held
    .flatMap((entry) => (typeof entry?.data === 'object' && 'jobId' in entry.data ? [entry.data.jobId] : []))
    .join(' ');
  useEffect(() => lookAt(working.split(' ').filter(Boolean)), [working]);
  return questions.map((question, i): Preview => {
    const entry = held[i];
    const answer = entry?.data;
    if (!question || answer === 'not known') return { state: 'idle' };
    const failed = (error: ErrorBody['error']): Preview => ({
      state: 'failed',
      error,
      again: () =>
        void dispatch(previewApi.endpoints.preview.initiate(question, { subscribe: false, forceRefetch: true })),
    });
    if (entry?.isError && !entry.isLoading) return failed(wordsOf(entry.error));
    if (!answer) return question.ifKnown ? { state: 'idle' } : { state: 'working', jobId: null };
    if ('step' in answer) return { state: 'ready', step: answer.step };
    if ('error' in answer) return failed(answer.error);
    return { state: 'working', jobId: answer.jobId };
  });
}

/** A question to the server: what would this operation give? */
export const ask = <N extends OperationName>(
  operation: { name: N },
  params: Partial<ParamsOf<N>>,
  more: Pick<Asked, 'after' | 'ifKnown'> = {},
): Asked => ({ operation: operation.name, params, ...more });

/** The report of a preview that is ready, if it is one of that operation. */
export const reportOf = <N extends OperationName>(p: Preview | undefined, operation: { name: N }): ReportOf<N> | null =>
  p?.state === 'ready' && isStepOf(p.step, operation) ? p.step.report : null;
