import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Drawer from '@mui/material/Drawer';
import LinearProgress from '@mui/material/LinearProgress';
import { Fragment, useEffect, useRef, useState } from 'react';
import type { JobView } from '@jasmorphe/contracts/views';
import { useCancelJobMutation, useJobsQuery } from '../app/api.ts';
import { secondsText } from '@jasmorphe/core/words/numbers';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { isOpen } from '../app/useJobs.ts';
import { say, toggleJobs } from '../app/uiSlice.ts';
import { JobFoot, JobFrame, JobHead } from './JobFrame.ts';

/** How much longer a job is likely to take, from how far it is; null while that would be a guess. */
export function secondsLeft(job: JobView, nowMs: number): number | null {
  if (job.state !== 'running' || !job.startedAt || job.progress < 0.05) return null;
  const gone = (nowMs - Date.parse(job.startedAt)) / 1000;
  return gone < 1 ? null : (gone * (1 - job.progress)) / job.progress;
}

/** The time, told again every second while it matters, ms. */
function useNow(ticks: boolean): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!ticks) return;
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [ticks]);
  return now;
}

export function JobLine({ job }: { job: JobView }) {
  const [cancel] = useCancelJobMutation();
  const open = isOpen(job);
  const left = secondsLeft(job, useNow(open));
  return (
    <JobFrame data-testid="job">
      <JobHead>
        <b>{job.title}</b>
        <Box component="span" className="figure" sx={job.state === 'failed' ? { color: 'var(--madder)' } : {}}>
          {job.state === 'running' ? `${Math.round(100 * job.progress)} %` : job.state}
        </Box>
      </JobHead>
      {open && (
        <LinearProgress
          variant={job.state === 'running' ? 'determinate' : 'indeterminate'}
          value={100 * job.progress}
          aria-label={job.title}
        />
      )}
      <JobFoot>
        <span className="quiet">
          {job.error ? `${job.error.message} ${job.error.hint}` : job.phase}
          {left !== null && `, about ${secondsText(left)} left`}
        </span>
        {open && (
          <Button variant="text" onClick={() => void cancel(job.id)}>
            Cancel
          </Button>
        )}
      </JobFoot>
    </JobFrame>
  );
}

/** Jobs as they are listed: of those of one batch that have ended only the newest, with how many others there are. */
export function shownJobs(jobs: readonly JobView[]): { job: JobView; more: number }[] {
  const first = new Map<string, { job: JobView; more: number }>();
  const out: { job: JobView; more: number }[] = [];
  for (const job of jobs) {
    const told = job.batchId !== null && job.endedAt !== null ? first.get(job.batchId) : undefined;
    if (told) {
      told.more++;
      continue;
    }
    const line = { job, more: 0 };
    if (job.batchId !== null && job.endedAt !== null) first.set(job.batchId, line);
    out.push(line);
  }
  return out;
}

/** All jobs, newest first; failures of work that somebody asked for are also said aloud. */
export function JobsTray() {
  const dispatch = useAppDispatch();
  const open = useAppSelector((s) => s.ui.jobsOpen);
  const { data: jobs = [] } = useJobsQuery();
  const said = useRef<Set<string> | null>(null);
  useEffect(() => {
    if (jobs.length === 0 && said.current === null) return;
    const failed = jobs.filter(
      // the account of a batch tells of its own
      (j) => j.state === 'failed' && j.kind !== 'preview' && j.kind !== 'import' && j.batchId === null,
    );
    if (said.current === null) said.current = new Set(failed.map((j) => j.id));
    for (const job of failed)
      if (!said.current.has(job.id)) {
        said.current.add(job.id);
        dispatch(
          say({ text: job.error?.message ?? `${job.title} failed.`, hint: job.error?.hint ?? '', tone: 'failure' }),
        );
      }
  }, [jobs, dispatch]);
  return (
    <Drawer anchor="right" open={open} onClose={() => dispatch(toggleJobs())}>
      <section aria-label="Jobs">
        <h2 className="question">Jobs</h2>
        {jobs.length === 0 && <p className="quiet">Nothing has been asked of the workshop yet.</p>}
        {shownJobs(jobs)
          .slice(0, 40)
          .map(({ job, more }) => (
            <Fragment key={job.id}>
              <JobLine job={job} />
              {more > 0 && <p className="quiet">and {more} more of the same work, ended</p>}
            </Fragment>
          ))}
      </section>
    </Drawer>
  );
}
