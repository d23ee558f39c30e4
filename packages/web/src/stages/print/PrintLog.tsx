import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import type { BodyView, LogEntryView } from '@jasmorphe/contracts/views';
import { localDay } from '@jasmorphe/core/planning/days/instants';
import { whole } from '@jasmorphe/core/words/numbers';
import { useAddLogMutation, useLogQuery, useProjectQuery } from '../../app/api.ts';
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

/** So many entries are shown before all are asked for. */
const shown = 14;

function Entry({ entry, gone }: { entry: LogEntryView; gone: boolean }) {
  const length = useLength();
  const [add, adding] = useAddLogMutation();
  const { id, tag, outcome, heightMm, at, note, withdrawn, partId, projectId, modelId } = entry;
  return (
    <li className={withdrawn ? 'withdrawn' : outcome}>
      <b>{tag}</b> {outcomeWords[outcome]}
      {heightMm !== null && ` at ${length(heightMm)}`}
      <span className="figure"> {localDay(Date.parse(at))}</span>
      {note && <small> {note}</small>}
      {gone && <small> of a piece that was removed</small>}
      {withdrawn && <small> taken back</small>}
      {entry.canTakeBack && (
        <Button
          variant="text"
          color="inherit"
          size="small"
          aria-label={`Take back: ${tag} ${outcomeWords[outcome]}`}
          disabled={adding.isLoading}
          onClick={() => void add({ projectId, modelId, partId, outcome: 'withdrawn', correctsId: id })}
        >
          take back
        </Button>
      )}
    </li>
  );
}

/** What happened at the printer, the newest first, whatever has become of the parts since; and what of pieces that are gone. */
export function PrintLog({ body }: { body: BodyView }) {
  const { data: log = [] } = useLogQuery(body.projectId);
  const { data: project } = useProjectQuery(body.projectId);
  const [all, setAll] = useState(false);
  const isGone = ({ modelId }: LogEntryView): boolean => project !== undefined && !project.modelIds.includes(modelId);
  const mine = log.filter((e) => e.outcome !== 'withdrawn' && (e.modelId === body.id || isGone(e)));
  return (
    <Log aria-label="Print log">
      <div className="label">Print log</div>
      {mine.length === 0 && <p className="quiet">Nothing printed yet.</p>}
      <ol>
        {(all ? mine : mine.slice(0, shown)).map((e) => (
          <Entry key={e.id} entry={e} gone={isGone(e)} />
        ))}
      </ol>
      {mine.length > shown && !all && (
        <Button variant="text" sx={{ justifySelf: 'start' }} onClick={() => setAll(true)}>
          All {whole(mine.length)} entries
        </Button>
      )}
    </Log>
  );
}
