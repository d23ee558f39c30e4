import ButtonBase from '@mui/material/ButtonBase';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { useCancelJobMutation } from '../app/api.ts';
import { JobBar } from '../jobs/JobProgress.tsx';
import { Tip } from '../ui/Tip.tsx';
import type { Preview } from './usePreviews.ts';
import { Failed } from '../ui/layout.ts';

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

const Head = styled(TableCell)({
  padding: 0,
  fontSize: 12.5,
  fontStretch: '88%',
  borderTop: '3px solid transparent',
  verticalAlign: 'bottom',
  '&.chosen': { borderTopColor: 'var(--verdigris)', background: 'var(--verdigrisGround)' },
  '&.advised button': { color: 'var(--verdigris)' },
  // the mark is to be seen, and no part of the name
  '&.advised button::before': { content: "'✓ ' / ''", whiteSpace: 'pre' },
});

const HeadButton = styled(ButtonBase)({
  width: '100%',
  padding: '7px 6px',
  font: 'inherit',
  fontWeight: 600,
  flexWrap: 'wrap',
  justifyContent: 'flex-end',
  textAlign: 'right',
  '& small': { display: 'block', width: '100%', fontSize: 10.5, fontWeight: 400, color: 'var(--verdigris)' },
});

const Label = styled(TableCell)({ color: 'var(--ink2)', paddingLeft: 0 });
const Cell = styled(TableCell)({
  whiteSpace: 'nowrap',
  '&.chosen': { background: 'var(--verdigrisGround)' },
  // what is a list of things breaks between them where there is no room
  '&.list': { whiteSpace: 'normal' },
});

const Waiting = styled('span')({
  display: 'inline-flex',
  flexDirection: 'column',
  alignItems: 'flex-end',
  gap: 2,
  minWidth: 40,
  '& .MuiLinearProgress-root': { width: 44 },
});

const Room = styled('div')({
  overflowX: 'auto',
  '& .narrow :is(td, th, button)': { paddingLeft: 2, paddingRight: 3, fontSize: 11, letterSpacing: '-0.02em' },
});

function Working({ preview }: { preview: Preview }) {
  const [cancel] = useCancelJobMutation();
  if (preview.state === 'working')
    return (
      <Waiting data-testid="working-out">
        <JobBar jobId={preview.jobId} />
        {preview.jobId && (
          <Button variant="text" color="inherit" size="small" onClick={() => void cancel(preview.jobId!)}>
            stop
          </Button>
        )}
      </Waiting>
    );
  if (preview.state !== 'failed') return null;
  return preview.error.code === 'cancelled' ? (
    <Waiting data-testid="working-out">
      stopped
      <Button variant="text" color="inherit" size="small" onClick={preview.again}>
        work it out
      </Button>
    </Waiting>
  ) : (
    <Failed>cannot</Failed>
  );
}

/** With more answers than this the columns move closer. */
const roomy = 4;

/** The answers side by side with what each would mean. */
export function Consequences({
  options,
  rows,
  chosen,
  advised,
  tight = false,
  onChoose,
}: {
  options: readonly OptionColumn[];
  rows: readonly ConsequenceRow[];
  chosen: number;
  advised: number | null;
  /** its figures are long: the columns move closer earlier */
  tight?: boolean;
  onChoose: (index: number) => void;
}) {
  const waiting = (i: number) => {
    const state = options[i].preview?.state;
    return state === 'working' || state === 'failed';
  };
  const cell = (row: ConsequenceRow, r: number, i: number): ReactNode => {
    if (waiting(i) && row.cells[i] === null) return r === 0 ? <Working preview={options[i].preview!} /> : '·';
    return row.cells[i] ?? '—';
  };
  return (
    <Room>
      <Table className={options.length > (tight ? roomy - 1 : roomy) ? 'narrow' : ''} aria-label="Consequences">
        <TableHead>
          <TableRow>
            <TableCell component="td" />
            {options.map((o, i) => (
              <Head
                key={o.name}
                align="right"
                scope="col"
                className={[i === chosen && 'chosen', i === advised && 'advised'].filter(Boolean).join(' ')}
              >
                <HeadButton aria-pressed={i === chosen} onClick={() => onChoose(i)}>
                  {o.name}
                  {o.taken && <small>taken</small>}
                </HeadButton>
              </Head>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row, r) => (
            <Tip key={row.label} says={row.method}>
              <TableRow>
                <Label component="th" scope="row" align="left">
                  {row.label}
                </Label>
                {options.map((o, i) => {
                  const shown = cell(row, r, i);
                  const list = typeof shown === 'string' && shown.includes(', ');
                  return (
                    <Cell
                      key={o.name}
                      align="right"
                      className={['figure', i === chosen && 'chosen', list && 'list'].filter(Boolean).join(' ')}
                    >
                      {shown}
                    </Cell>
                  );
                })}
              </TableRow>
            </Tip>
          ))}
        </TableBody>
      </Table>
    </Room>
  );
}
