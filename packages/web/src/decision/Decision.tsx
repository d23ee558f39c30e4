import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { useCancelJobMutation } from '../app/api.ts';
import { useKeys } from '../app/keys.ts';
import { FieldsContext } from './fieldsOfDecision.ts';
import { StakeNote } from './StakeNote.tsx';
import type { Stake } from './useStake.ts';
import type { Preview } from './usePreviews.ts';

export interface OptionColumn {
  name: string;
  preview?: Preview;
  /** the one that was done */
  taken?: boolean;
}

/** One line of the table of consequences: a cell for each option. */
export interface ConsequenceRow {
  label: string;
  cells: ReactNode[];
  /** how the figure was got */
  method?: string;
}

interface DecisionProps {
  step: string;
  question: string;
  lead: string;
  options: OptionColumn[];
  rows: ConsequenceRow[];
  chosen: number;
  onChoose: (index: number) => void;
  advised: number | null;
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

function Working({ preview }: { preview: Preview }) {
  const [cancel] = useCancelJobMutation();
  if (preview.state === 'working')
    return (
      <span className="cellWorking">
        <LinearProgress
          variant={preview.progress > 0 ? 'determinate' : 'indeterminate'}
          value={100 * preview.progress}
          aria-label={preview.phase}
        />
        {preview.jobId && (
          <button type="button" className="plain tiny" onClick={() => void cancel(preview.jobId!)}>
            stop
          </button>
        )}
      </span>
    );
  if (preview.state === 'failed')
    return preview.error.code === 'cancelled' ? (
      <span className="cellWorking">
        stopped
        <button type="button" className="plain tiny" onClick={preview.again}>
          work it out
        </button>
      </span>
    ) : (
      <span className="cellFailed">cannot</span>
    );
  return null;
}

/** An open question with its answers side by side, their consequences computed, one of them advised. */
export function Decision(props: DecisionProps) {
  const { options, rows, chosen, onChoose, advised, action } = props;
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
  const unclear = Object.values(wrong);
  const held = action.disabled || props.busy || unclear.length > 0 || props.stake != null;
  const submit = () => {
    if (!held) action.run();
  };
  const last = useRef(submit);
  useEffect(() => void (last.current = submit));
  const fields = useMemo(() => ({ tell, submit: () => last.current() }), [tell]);
  useKeys({ Enter: submit });
  const broken = options[chosen]?.preview;
  return (
    <section className="decision" aria-label="Decision">
      <div className="label accent">{props.step}</div>
      <h2 className="question">{props.question}</h2>
      <p className="lead">{props.lead}</p>
      <table className="consequences">
        <thead>
          <tr>
            <th />
            {options.map((o, i) => (
              <th key={o.name} className={`${i === chosen ? 'chosen' : ''}${i === advised ? ' advised' : ''}`}>
                <button type="button" aria-pressed={i === chosen} onClick={() => onChoose(i)}>
                  {o.name}
                  {o.taken && <small className="takenMark">taken</small>}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, r) => (
            <tr key={row.label} title={row.method}>
              <th scope="row">{row.label}</th>
              {options.map((o, i) => (
                <td key={o.name} className={`figure${i === chosen ? ' chosen' : ''}`}>
                  {o.preview && o.preview.state !== 'ready' && o.preview.state !== 'idle' && row.cells[i] === null ? (
                    r === 0 ? (
                      <Working preview={o.preview} />
                    ) : (
                      '·'
                    )
                  ) : (
                    (row.cells[i] ?? '—')
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {broken?.state === 'failed' && broken.error.code !== 'cancelled' ? (
        <div className="warningBox failure">
          <b>{broken.error.message}</b> {broken.error.hint}{' '}
          <button type="button" className="plain accent" onClick={broken.again}>
            Try again
          </button>
        </div>
      ) : (
        props.advice && <div className="warningBox advice">{props.advice}</div>
      )}
      {props.stake && <StakeNote stake={props.stake} />}
      {props.look}
      {props.fields && (
        <FieldsContext value={fields}>
          <div className="fields">{props.fields}</div>
        </FieldsContext>
      )}
      <div className="actions">
        <Button variant="contained" disabled={held} onClick={submit} data-testid="do">
          {action.label}
          <span className="key onAccent">⏎</span>
        </Button>
      </div>
      {unclear.length > 0 && (
        <p className="foot unclear" role="status">
          {unclear[0]}
        </p>
      )}
      <p className="foot">
        {props.foot ?? 'What was expected is kept beside what comes out. Undo brings everything back.'}
      </p>
      {props.below}
    </section>
  );
}
