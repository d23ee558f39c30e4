import LinearProgress from '@mui/material/LinearProgress';
import { useJob } from '../app/useJobs.ts';

// what jobs report is drawn by these alone: a card that waits for one stays as it is

/** How far a job is; null: one that is not begun. */
export function JobBar({ jobId }: { jobId: string | null }) {
  const { progress = 0, phase = '' } = useJob(jobId) ?? {};
  return (
    <LinearProgress
      variant={progress > 0 ? 'determinate' : 'indeterminate'}
      value={100 * progress}
      aria-label={phase || 'Waiting'}
    />
  );
}

/** What a job is at. */
export const JobPhase = ({ jobId, before }: { jobId: string | null; before: string }) => (
  <p className="quiet">{useJob(jobId)?.phase || before}</p>
);
