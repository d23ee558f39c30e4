import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import type { BatchView } from '@jasmorphe/contracts/kitViews';
import { whole } from '@jasmorphe/core/words/numbers';
import { useCancelBatchMutation, useUndoBatchMutation } from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { JobFoot, JobFrame, JobHead } from '../jobs/JobFrame.ts';
import { Bullets } from '../ui/layout.ts';

/** How far work on many pieces is, or what came of it; cancelled and undone as one. */
export function BatchLine({ batch }: { batch: BatchView }) {
  const dispatch = useAppDispatch();
  const [cancel] = useCancelBatchMutation();
  const [undo] = useUndoBatchMutation();
  const { open, done, failed, cancelled, total, refused, title } = batch;
  const takeBack = async () => {
    const { data } = await undo({ id: batch.id });
    if (data && data.kept.length > 0)
      dispatch(
        say({
          text: `Taken back on ${data.undone.length} of ${data.undone.length + data.kept.length} pieces.`,
          hint: 'The others were changed since, and keep that.',
          tone: 'note',
        }),
      );
  };
  const said = [
    `${whole(done)} of ${whole(total)} done`,
    failed > 0 && `${whole(failed)} failed`,
    cancelled > 0 && `${whole(cancelled)} cancelled`,
    batch.undoneAt !== null && 'taken back',
  ].filter(Boolean);
  return (
    <JobFrame data-testid="batch">
      <JobHead>
        <b>{title}</b>
        <span className="figure">{open > 0 ? `${Math.round(100 * batch.progress)} %` : ''}</span>
      </JobHead>
      {open > 0 && <LinearProgress variant="determinate" value={100 * batch.progress} aria-label={title} />}
      <JobFoot>
        <span className="quiet">{said.join(', ')}</span>
        {open > 0 ? (
          <Button variant="text" onClick={() => void cancel(batch.id)}>
            Cancel the rest
          </Button>
        ) : (
          batch.canUndo && (
            <Button variant="text" onClick={() => void takeBack()}>
              Undo on all
            </Button>
          )
        )}
      </JobFoot>
      {refused.length > 0 && (
        <Bullets>
          {refused.slice(0, 6).map((r, i) => (
            <li key={i}>
              <b>{r.file}</b> {r.message}
            </li>
          ))}
          {refused.length > 6 && <li>and {whole(refused.length - 6)} more</li>}
        </Bullets>
      )}
    </JobFrame>
  );
}
