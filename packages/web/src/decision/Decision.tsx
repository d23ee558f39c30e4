import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { useKeys } from '../app/keys.ts';
import { FieldsContext, useHold } from '../forms/hold.ts';
import { WrongField } from '../forms/WrongField.tsx';
import { KeyCap } from '../ui/KeyCap.tsx';
import { Note } from '../ui/Note.tsx';
import { Consequences, type ConsequenceRow, type OptionColumn } from './Consequences.tsx';
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
  /** figures that can be changed; those that stand elsewhere on the card hold the button as well */
  fields?: ReactNode;
  action: { label: string; run: () => void; disabled?: boolean };
  foot?: ReactNode;
  /** what is good to know beside it */
  below?: ReactNode;
  busy: boolean;
  /** printed parts that the last press would make useless; shown before it is done */
  stake?: Stake | null;
}

/** An open question with its answers side by side, their consequences computed, one of them advised. */
export function Decision(props: DecisionProps) {
  const { options, chosen, action } = props;
  const { wrong, held, submit, fields } = useHold(
    action.run,
    action.disabled === true || props.busy || props.stake != null,
  );
  useKeys('decision', { do: submit });
  const broken = options[chosen]?.preview;
  return (
    <FieldsContext value={fields}>
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
        {props.fields && <div className="fields">{props.fields}</div>}
        <ActionsAtHand>
          <Button variant="contained" disabled={held} onClick={submit} data-testid="do">
            {action.label}
            <KeyCap>⏎</KeyCap>
          </Button>
          <WrongField wrong={wrong} />
        </ActionsAtHand>
        <p className="foot">
          {props.foot ?? 'What was expected is kept beside what comes out. Undo brings everything back.'}
        </p>
        {props.below}
      </section>
    </FieldsContext>
  );
}
