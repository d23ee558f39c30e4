import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import type { BodyView, LogEntryView } from '@jasmorphe/contracts/views';
import { useAddLogMutation, useLogQuery } from '../../app/api.ts';
import { useLength } from '../../app/useLength.ts';
import { outcomeWords } from './printWords.ts';

const Log = styled('section')({
  borderTop: '1px solid var(--line)',
  padding: '12px 16px',
  '&, & ol': { display: 'grid', gap: 6 },
  '& ol': { listStyle: 'none', margin: 0, padding: 0 },
  '& small': { display: 'inline' },
  '& .failed b': { color: 'var(--madder)' },
  '& .passed b': { color: 'var(--verdigris)' },
  '& .withdrawn, & .withdrawn b': { color: 'var(--ink3)', textDecoration: 'line-through' },
  '@media (max-width: 900px)': { '& button': { minHeight: 36, minWidth: 28 } },
});

/** So many entries are shown. */
const shown = 14;

function Entry({ entry, body }: { entry: LogEntryView; body: BodyView }) {
  const length = useLength();
  const [add, adding] = useAddLogMutation();
  const { id, tag, outcome, heightMm, at, note, withdrawn, partId } = entry;
  const takeBack = () =>
    void add({ projectId: body.projectId, modelId: body.id, partId, outcome: 'withdrawn', correctsId: id });
  return (
    <li className={withdrawn ? 'withdrawn' : outcome}>
      <b>{tag}</b> {outcomeWords[outcome]}
      {heightMm !== null && ` at ${length(heightMm)}`}
      <span className="figure"> {at.slice(0, 10)}</span>
      {note && <small> {note}</small>}
      {withdrawn ? (
        <small> taken back</small>
      ) : (
        <Button
          variant="text"
          color="inherit"
          size="small"
          aria-label={`Take back: ${tag} ${outcomeWords[outcome]}`}
          disabled={adding.isLoading}
          onClick={takeBack}
        >
          take back
        </Button>
      )}
    </li>
  );
}

/** What happened at the printer, the newest first. */
export function PrintLog({ body }: { body: BodyView }) {
  const { data: log = [] } = useLogQuery(body.projectId);
  const mine = log.filter((e) => e.modelId === body.id && e.outcome !== 'withdrawn');
  return (
    <Log aria-label="Print log">
      <div className="label">Print log</div>
      {mine.length === 0 && <p className="quiet">Nothing printed yet.</p>}
      <ol>
        {mine.slice(0, shown).map((e) => (
          <Entry key={e.id} entry={e} body={body} />
        ))}
      </ol>
    </Log>
  );
}
