import { useEffect, useState } from 'react';
import type { JobView, PrintsAtStake } from '@jasmorphe/contracts/views';
import { api, useJobsQuery } from '../app/api.ts';
import { useAppDispatch } from '../app/store.ts';

/** What a change would do to parts that are printed: being asked, or to be read before it is done. */
export type Stake =
  | { state: 'asking'; progress: number; leave: () => void }
  | ({ state: 'asked'; goOn: () => void; leave: () => void } & PrintsAtStake);

/**
 * Asks before a change of the line whether it would make printed parts useless, and does it at once if not.
 *
 * @param atRisk is anything printed, on the bed, or stopped?
 */
export function useStake(
  atRisk: boolean,
  dry: (params: object) => Promise<JobView | null>,
  wet: (params: object) => void,
): { stake: Stake | null; run: (params: object) => void } {
  const dispatch = useAppDispatch();
  const { data: jobs } = useJobsQuery();
  const [wish, setWish] = useState<{ params: object; jobId: string | null } | null>(null);
  const [found, setFound] = useState<PrintsAtStake | null>(null);
  const job = jobs?.find((j) => j.id === wish?.jobId);
  const leave = () => {
    if (wish?.jobId && !found) void dispatch(api.endpoints.cancelJob.initiate(wish.jobId));
    setWish(null);
    setFound(null);
  };
  useEffect(() => {
    if (!wish || !job || found) return;
    if (job.state === 'failed' || job.state === 'cancelled') setWish(null);
    const atStake = job.state === 'done' ? job.result?.atStake : undefined;
    if (!atStake) return;
    if (atStake.lost.length > 0) setFound(atStake);
    else {
      setWish(null);
      wet(wish.params);
    }
  }, [wish, job, found, wet]);
  return {
    stake: !wish
      ? null
      : found
        ? {
            state: 'asked',
            ...found,
            leave,
            goOn: () => {
              leave();
              wet(wish.params);
            },
          }
        : { state: 'asking', progress: job?.progress ?? 0, leave },
    run: (params) => {
      if (!atRisk) return wet(params);
      setFound(null);
      setWish({ params, jobId: null });
      void dry(params).then((begun) => setWish(begun ? { params, jobId: begun.id } : null));
    },
  };
}
