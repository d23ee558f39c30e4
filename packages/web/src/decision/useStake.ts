import { useEffect, useEffectEvent, useRef, useState } from 'react';
import type { JobView, PrintsAtStake } from '@jasmorphe/contracts/views';
import { api } from '../app/api.ts';
import { useAppDispatch } from '../app/store.ts';
import { useJobs } from '../app/useJobs.ts';

/** What a change would do to parts that are printed: being asked, or to be read before it is done. */
export type Stake =
  | { state: 'asking'; jobId: string | null; leave: () => void }
  | ({ state: 'asked'; goOn: () => void; leave: () => void } & PrintsAtStake);

/**
 * Asks before a change of the line whether it would make printed parts useless, and does it at once if not.
 *
 * @param atRisk is anything printed, on the bed, or stopped?
 * @param wet does it; `lose` once it was said that prints may be of no use
 */
export function useStake(
  atRisk: boolean,
  dry: (params: object) => Promise<JobView | null>,
  wet: (params: object, lose: boolean) => void,
): { stake: Stake | null; run: (params: object) => void } {
  const dispatch = useAppDispatch();
  const [wish, setWish] = useState<{ params: object; jobId: string | null } | null>(null);
  /** the job whose wish was done at once, since nothing was at stake */
  const done = useRef<string | null>(null);
  const { state, atStake } = useJobs((jobs) => {
    const job = wish?.jobId ? jobs.find((j) => j.id === wish.jobId) : undefined;
    return { state: job?.state, atStake: job?.state === 'done' ? job.result?.atStake : undefined };
  });
  const doIt = useEffectEvent(wet);
  useEffect(() => {
    if (!wish?.jobId || !atStake || atStake.lost.length > 0 || done.current === wish.jobId) return;
    done.current = wish.jobId;
    doIt(wish.params, false);
  }, [wish, atStake]);
  const leave = () => {
    if (wish?.jobId && !atStake) void dispatch(api.endpoints.cancelJob.initiate(wish.jobId));
    setWish(null);
  };
  const stake = (): Stake | null => {
    // where the question failed, or nothing is at stake, there is nothing to be read
    if (!wish || state === 'failed' || state === 'cancelled' || atStake?.lost.length === 0) return null;
    if (!atStake) return { state: 'asking', jobId: wish.jobId, leave };
    return {
      state: 'asked',
      ...atStake,
      leave,
      goOn: () => {
        setWish(null);
        wet(wish.params, true);
      },
    };
  };
  return {
    stake: stake(),
    run: (params) => {
      if (!atRisk) return wet(params, false);
      setWish({ params, jobId: null });
      void dry(params).then((begun) =>
        // unless it was left meanwhile, or another wish came
        setWish((now) => (now?.params !== params ? now : begun ? { params, jobId: begun.id } : null)),
      );
    },
  };
}
