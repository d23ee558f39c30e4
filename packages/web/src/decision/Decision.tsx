import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import type { ReactNode } from 'react';
import { useCancelJobMutation } from '../app/api.ts';
import { useKeys } from '../app/keys.ts';
import type { Preview } from './usePreviews.ts';

export interface OptionColumn {
  name: string;
  preview?: Preview;
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
  if (preview.state === 'failed') return <span className="cellFailed">no</span>;
  return null;
}

/** An open question with its answers side by side, their consequences computed, one of them advised. */
export function Decision(props: DecisionProps) {
  const { options, rows, chosen, onChoose, advised, action } = props;
  useKeys({ Enter: () => !action.disabled && !props.busy && action.run() });
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
      {broken?.state === 'failed' ? (
        <div className="warningBox failure">
          <b>{broken.error.message}</b> {broken.error.hint}
        </div>
      ) : (
        props.advice && <div className="warningBox advice">{props.advice}</div>
      )}
      {props.look}
      {props.fields && <div className="fields">{props.fields}</div>}
      <div className="actions">
        <Button variant="contained" disabled={action.disabled || props.busy} onClick={action.run} data-testid="do">
          {action.label}
          <span className="key onAccent">⏎</span>
        </Button>
      </div>
      <p className="foot">
        {props.foot ?? 'What was expected is kept beside what comes out. Undo brings everything back.'}
      </p>
      {props.below}
    </section>
  );
}
