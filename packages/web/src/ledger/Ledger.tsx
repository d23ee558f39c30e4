import Button from '@mui/material/Button';
import { useState } from 'react';
import type { BodyView, StepView } from '@jasmorphe/contracts/views';
import { useMoveCursorMutation, useMoveLineMutation } from '../app/api.ts';
import { secondsText, whole } from '@jasmorphe/core/words/numbers';
import { useSpeaker } from '../app/useLength.ts';
import { lineMovedBy } from './lineMovedBy.ts';
import { paramWords, stepFigure, stepTitle } from './stepWords.ts';

function Details({ step, index, body }: { step: StepView; index: number; body: BodyView }) {
  const [move] = useMoveCursorMutation();
  const say = useSpeaker();
  const inForce = index < body.cursor;
  const params = paramWords(step, say);
  return (
    <div className={`ledgerStep${inForce ? '' : ' off'}`}>
      <b>
        {index + 1} {stepTitle(step.operation)}
      </b>
      <span className="figure">{stepFigure(step, say)}</span>
      <small className="quiet">
        {params.join(' · ') || 'as it came'} · took {secondsText(step.elapsedMs / 1000)}
      </small>
      {index + 1 !== body.cursor && (
        <Button variant="text" onClick={() => void move({ bodyId: body.id, cursor: index + 1 })}>
          {inForce ? 'Go back to here' : 'Go on to here'}
        </Button>
      )}
    </div>
  );
}

/**
 * The line of steps with their figures: undo, redo, go back to any; opens for the whole account.
 *
 * @param own the part that is worked on here: its steps come after the model's, and are undone before them
 */
export function Ledger({ body, own }: { body: BodyView; own?: BodyView }) {
  const [open, setOpen] = useState(false);
  const [move] = useMoveLineMutation();
  const say = useSpeaker();
  const busy = body.busyJobId !== null || (own?.busyJobId ?? null) !== null;
  const back = lineMovedBy(body, own, 'undo');
  const on = lineMovedBy(body, own, 'redo');
  return (
    <footer className={`ledger${open ? ' open' : ''}`} data-testid="ledger">
      <div className="ledgerStrip">
        <Button
          variant="text"
          color="inherit"
          className="label ledgerName"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          Ledger
        </Button>
        <div className="ledgerLine">
          {body.line.map((step, i) => (
            <span key={step.id + i} className={i < body.cursor ? '' : 'off'}>
              <b>{stepTitle(step.operation)}</b> <span className="figure">{stepFigure(step, say)}</span>
            </span>
          ))}
          {own?.line.map((step, i) => (
            <span key={step.id + i} className={i < own.cursor ? '' : 'off'}>
              {own.name} <b>{stepTitle(step.operation)}</b> <span className="figure">{stepFigure(step, say)}</span>
            </span>
          ))}
        </div>
        <span className="quiet ledgerNote">
          {body.cursor < body.line.length
            ? `${whole(body.line.length - body.cursor)} later not in force`
            : 'later steps replay by themselves'}
        </span>
        <Button
          variant="text"
          disabled={busy || !back}
          onClick={() => back && void move({ bodyId: back.id, way: 'undo' })}
        >
          Undo
        </Button>
        <Button variant="text" disabled={busy || !on} onClick={() => on && void move({ bodyId: on.id, way: 'redo' })}>
          Redo
        </Button>
      </div>
      {open && (
        <div className="ledgerDetails">
          {body.line.map((step, i) => (
            <Details key={step.id + i} step={step} index={i} body={body} />
          ))}
        </div>
      )}
    </footer>
  );
}
