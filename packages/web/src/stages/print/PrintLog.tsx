import Button from '@mui/material/Button';
import type { BodyView, LogEntryView } from '@jasmorphe/contracts/views';
import { useAddLogMutation, useLogQuery } from '../../app/api.ts';
import { useLength } from '../../app/useLength.ts';
import { outcomeWords } from './printWords.ts';

/** So many entries are shown. */
const shown = 14;

function Entry({ entry, body }: { entry: LogEntryView; body: BodyView }) {
  const length = useLength();
  const [add, adding] = useAddLogMutation();
  const { id, tag, outcome, heightMm, at, note, withdrawn, partId } = entry;
  const takeBack = () =>
    void add({ projectId: body.projectId, modelId: body.id, partId, outcome: 'withdrawn', correctsId: id });
  return (
    <li className={`${outcome}${withdrawn ? ' withdrawn' : ''}`}>
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
    <section className="logList" aria-label="Print log">
      <div className="label">Print log</div>
      {mine.length === 0 && <p className="quiet">Nothing printed yet.</p>}
      <ol>
        {mine.slice(0, shown).map((e) => (
          <Entry key={e.id} entry={e} body={body} />
        ))}
      </ol>
    </section>
  );
}
