import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import type { StepView } from '@jasmorphe/contracts/steps';
import { nobodyLooks, type ErrorBody, type JobView } from '@jasmorphe/contracts/views';
import { api, type Asked } from './api.ts';
import { requestOf } from './asking.ts';
import { pageId } from './looking.ts';

/** What is known of a question: its answer, the job that works it out, or why there is none. */
export type PreviewAnswer = { step: StepView } | { jobId: string } | { error: ErrorBody['error'] } | 'not known';

/** A question about a body, with the mesh that it is about. */
export type PreviewQuestion = { bodyId: string; meshHash: string } & Asked;

/** The part of the page's state that holds what was asked of the server. */
type State = Parameters<typeof api.util.selectInvalidatedBy>[0];
type Dispatch = ThunkDispatch<State, unknown, UnknownAction>;

/** Preview jobs that have ended of late: one may have ended before its number was here. */
const ended = new Map<string, JobView>();
const mostEnded = 200;

export const previewApi = api.injectEndpoints({
  endpoints: (b) => ({
    /** What an operation would give. While a job works it out the answer is that job, and follows once it has ended. */
    preview: b.query<PreviewAnswer, PreviewQuestion>({
      query: ({ bodyId, meshHash: _, ...body }) =>
        requestOf('POST /bodies/{id}/previews', { path: { id: bodyId }, body: { ...body, page: pageId } }),
      transformResponse: (answer: JobView | StepView | null): PreviewAnswer =>
        !answer ? 'not known' : 'report' in answer ? { step: answer } : { jobId: answer.id },
      keepUnusedDataFor: 600,
      // what is answered is never asked for again: the mesh is part of the question
      providesTags: (answer) => {
        if (answer === undefined) return ['Preview'];
        return typeof answer === 'object' && 'jobId' in answer ? [{ type: 'Preview', id: answer.jobId }] : [];
      },
      async onQueryStarted(_question, { dispatch, getState, queryFulfilled }) {
        const answer = (await queryFulfilled.catch(() => null))?.data;
        if (!answer || typeof answer !== 'object' || !('jobId' in answer)) return;
        // it may have ended before its number was here
        const job = api.endpoints.jobs
          .select()((getState as () => State)())
          .data?.find((j) => j.id === answer.jobId);
        if (job) settlePreviews(dispatch, getState as () => State, job);
      },
    }),
  }),
});

/** Why a job that has ended gave nothing; null where it did, or has not ended. */
function troubleOf(job: JobView): PreviewAnswer | null {
  if (job.state === 'failed')
    return { error: job.error ?? { code: 'cannot', message: 'This could not be worked out.', hint: '' } };
  if (job.state === 'cancelled')
    return { error: { code: 'cancelled', message: 'Stopped before it was done.', hint: '' } };
  return null;
}

/** Tells the previews that wait for a job how it ended: those of one that is done are asked for again, and known by now. */
export function settlePreviews(dispatch: Dispatch, getState: () => State, job: JobView): void {
  if (job.kind !== 'preview' || job.endedAt === null) return;
  ended.set(job.id, job);
  if (ended.size > mostEnded) ended.delete(ended.keys().next().value!);
  const tag = { type: 'Preview' as const, id: job.id };
  const trouble = troubleOf(job);
  // one that was ended because nobody looked is asked for again by whoever does
  if (!trouble || job.phase === nobodyLooks) dispatch(api.util.invalidateTags([tag]));
  else
    for (const { originalArgs } of api.util.selectInvalidatedBy(getState(), [tag]))
      dispatch(previewApi.util.updateQueryData('preview', originalArgs as never, () => trouble));
}
