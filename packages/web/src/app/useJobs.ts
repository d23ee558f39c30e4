import { shallowEqual } from 'react-redux';
import type { JobView } from '@jasmorphe/contracts/views';
import { api, useJobsQuery } from './api.ts';
import { useAppSelector } from './store.ts';

const none: readonly JobView[] = [];
const nothing = {};
const held = { selectFromResult: () => nothing };
const all = api.endpoints.jobs.select();

/**
 * What a part of the page needs of the jobs. They report how far they are ten times a second, each to the whole page: only
 * a change of what is picked draws the part anew.
 *
 * @param pick of all jobs, newest first: a job, a value, or a list of either, which is compared one by one
 */
export function useJobs<T>(pick: (jobs: readonly JobView[]) => T): T {
  // holds the stream of events
  useJobsQuery(undefined, held);
  return useAppSelector((state) => pick(all(state).data ?? none), shallowEqual);
}

/** A job by its number, drawn anew by all that it reports. */
export const useJob = (jobId: string | null): JobView | undefined =>
  useJobs((jobs) => jobs.find((j) => j.id === jobId));

/** Is it being worked at, or waiting to be? */
export const isOpen = ({ state }: JobView): boolean => state === 'running' || state === 'queued';
