import Button from '@mui/material/Button';
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { useKeys } from '../app/keys.ts';
import { KeyCap } from '../ui/KeyCap.tsx';
import { Note } from '../ui/Note.tsx';
import { Consequences, type ConsequenceRow, type OptionColumn } from './Consequences.tsx';
import { FieldsContext } from './fieldsOfDecision.ts';
import { StakeNote } from './StakeNote.tsx';
import type { Stake } from './useStake.ts';
import { ActionsAtHand } from '../ui/layout.ts';

export type { ConsequenceRow, OptionColumn } from './Consequences.tsx';

interface DecisionProps {
  step: string;
  question: string;
  lead: ReactNode;
  options: OptionColumn[];
  rows: ConsequenceRow[];
  chosen: number;
  onChoose: (index: number) => void;
  advised: number | null;
  /** its figures are long: the columns move closer earlier */
  tight?: boolean;
  /** why this one is advised, or what stands in the way */
  advice: ReactNode;
  /** what the bench shows of the answers */
  look?: ReactNode;
  /** figures that can be changed */
  fields?: ReactNode;
  action: { label: string; run: () => void; disabled?: boolean };
  foot?: ReactNode;
  /** what is good to know beside it */
  below?: ReactNode;
  busy: boolean;
  /** printed parts that the last press would make useless; shown before it is done */
  stake?: Stake | null;
}

/** What is wrong in the fields of a card, by field. */
function useWrongFields(): { wrong: string[]; tell: (id: string, why: string | null) => void } {
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const tell = useCallback(
    (id: string, why: string | null) =>
      setWrong((all) => {
        if (why === null ? !(id in all) : all[id] === why) return all;
        const { [id]: _, ...others } = all;
        return why === null ? others : { ...others, [id]: why };
      }),
    [],
  );
  return { wrong: Object.values(wrong), tell };
}

/** An open question with its answers side by side, their consequences computed, one of them advised. */
export function Decision(props: DecisionProps) {
  const { options, chosen, action } = props;
  const { wrong, tell } = useWrongFields();
  const held = action.disabled || props.busy || wrong.length > 0 || props.stake != null;
  const submit = () => {
    if (!held) action.run();
  };
  const last = useRef(submit);
  useEffect(() => void (last.current = submit));
  const fields = useMemo(() => ({ tell, submit: () => last.current() }), [tell]);
  useKeys('decision', { do: submit });
  const broken = options[chosen]?.preview;
  return (
    <section className="decision" aria-label="Decision">
      <div className="label accent">{props.step}</div>
      <h2 className="question">{props.question}</h2>
      <p className="lead">{props.lead}</p>
      <Consequences {...props} />
      {broken?.state === 'failed' && broken.error.code !== 'cancelled' ? (
        <Note tone="failure">
          <b>{broken.error.message}</b> {broken.error.hint}{' '}
          <Button variant="text" onClick={broken.again}>
            Try again
          </Button>
        </Note>
      ) : (
        props.advice && <Note tone="advice">{props.advice}</Note>
      )}
      {props.stake && <StakeNote stake={props.stake} />}
      {props.look}
      {props.fields && (
        <FieldsContext value={fields}>
          <div className="fields">{props.fields}</div>
        </FieldsContext>
      )}
      <ActionsAtHand>
        <Button variant="contained" disabled={held} onClick={submit} data-testid="do">
          {action.label}
          <KeyCap>⏎</KeyCap>
        </Button>
        {wrong.length > 0 && (
          <p className="foot unclear" role="status">
            {wrong[0]}
          </p>
        )}
      </ActionsAtHand>
      <p className="foot">
        {props.foot ?? 'What was expected is kept beside what comes out. Undo brings everything back.'}
      </p>
      {props.below}
    </section>
  );
}
