import Button from '@mui/material/Button';
import { heldWords, printedCount } from '@jasmorphe/contracts/reading/stakes';
import { JobBar } from '../jobs/JobProgress.tsx';
import { Note } from '../ui/Note.tsx';
import type { Stake } from './useStake.ts';
import { Actions } from '../ui/layout.ts';

/** Says which printed parts a change would make useless, before it is done. */
export function StakeNote({ stake }: { stake: Stake }) {
  if (stake.state === 'asking')
    return (
      <Note role="status">
        Working out what this does to the parts that are printed.
        <JobBar jobId={stake.jobId} />
        <Button variant="text" onClick={stake.leave}>
          Leave it
        </Button>
      </Note>
    );
  return (
    <Note tone="failure" role="alert" data-testid="at-stake">
      <b>{printedCount(stake.lost)} would be of no use:</b> {heldWords(stake.lost)}.{' '}
      {stake.kept.length > 0 && `As they are: ${stake.kept.join(', ')}. `}
      Undo brings them back with what was said of them.
      <Actions>
        <Button variant="contained" color="error" onClick={stake.goOn}>
          Change it all the same
        </Button>
        <Button variant="outlined" onClick={stake.leave}>
          Leave it
        </Button>
      </Actions>
    </Note>
  );
}
