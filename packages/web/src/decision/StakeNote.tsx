import Button from '@mui/material/Button';
import type { PrintState } from '@jasmorphe/core/planning/printState';
import { JobBar } from '../jobs/JobProgress.tsx';
import { Note } from '../ui/Note.tsx';
import type { Stake } from './useStake.ts';
import { Actions } from '../ui/layout.ts';

const words: Record<PrintState, string> = {
  planned: 'recut',
  printing: 'on the bed',
  printed: 'printed',
  failed: 'stopped',
  aside: 'set aside',
};

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
      <b>
        {stake.lost.length} {stake.lost.length === 1 ? 'part that is' : 'parts that are'} printed would be of no use:
      </b>{' '}
      {stake.lost.map((p) => `${p.tag} (${words[p.state]})`).join(', ')}.{' '}
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
