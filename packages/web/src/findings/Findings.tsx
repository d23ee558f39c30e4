import Button from '@mui/material/Button';
import List from '@mui/material/List';
import ListItem from '@mui/material/ListItem';
import ListItemButton from '@mui/material/ListItemButton';
import OutlinedInput from '@mui/material/OutlinedInput';
import { styled } from '@mui/material/styles';
import { useEffect, useState } from 'react';
import { useForm } from 'react-hook-form';
import { DismissFinding } from '@jasmorphe/contracts/findingRequests';
import type { DismissalView } from '@jasmorphe/contracts/views';
import type { Mender, Severity } from '@jasmorphe/core/inspect/Finding';
import { useDismissMutation, useTakeUpMutation } from '../app/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { pickFinding } from '../bench/benchSlice.ts';
import { paramsResolver } from '../forms/paramsResolver.ts';

/** A measured fact with its place and, if it was set aside, why. */
export interface ShownFinding {
  number: number;
  key: string;
  severity: Severity;
  message: string;
  at: [number, number, number] | null;
  span: number;
  /** the part that it is about; empty where that is none in particular */
  tag: string;
  /** why it was set aside; null where it was not */
  aside: DismissalView | null;
  /** how the figure was got */
  method?: string;
  /** what mends it */
  mends?: Mender[];
  /** ends of segments that show it on the bench, x, y, z each */
  lines?: number[];
}

const mendWords: Record<Mender, string> = {
  stitch: 'Stitch',
  join: 'Join',
  wrap: 'Wrap',
  refine: 'Refine',
  mirror: 'Mirror',
  size: 'another size',
  crop: 'Crop',
  thicken: 'Thicken',
  hollow: 'Hollow',
  divide: 'Divide',
};

const words: Record<Severity, string> = {
  failure: 'must be mended',
  attention: 'worth a look',
  note: 'for information',
};

const Line = styled(ListItem)({
  display: 'block',
  padding: 0,
  borderBottom: '1px solid var(--line2)',
  '&[aria-current]': { background: 'var(--verdigrisGround)' },
}) as typeof ListItem;

const LineButton = styled(ListItemButton)({
  display: 'grid',
  gridTemplateColumns: '24px 1fr',
  alignItems: 'start',
  justifyItems: 'start',
  gap: 10,
  padding: '10px 14px 10px 12px',
  borderBottom: 0,
  textAlign: 'left',
  lineHeight: 1.35,
  '& b': { fontWeight: 600 },
  '&.aside b': { fontWeight: 400, color: 'var(--ink2)' },
}) as typeof ListItemButton;

const Under = styled('div')({
  padding: '0 14px 10px 46px',
  '&, & form': { display: 'grid', justifyItems: 'start', gap: 6 },
});

/** Asks why a finding may be left. */
function ReasonForm({ bodyId, code, onDone }: { bodyId: string; code: string; onDone: () => void }) {
  const [dismiss] = useDismissMutation();
  const { register, handleSubmit, formState, setFocus } = useForm<DismissFinding>({
    mode: 'onChange',
    defaultValues: { code, reason: '' },
    resolver: paramsResolver(DismissFinding),
  });
  // the button that was pressed is gone: what it asked for is here
  useEffect(() => setFocus('reason'), [setFocus]);
  return (
    <form onSubmit={(e) => void handleSubmit((given) => dismiss({ bodyId, ...given }).then(onDone))(e)}>
      <OutlinedInput
        fullWidth
        placeholder="Why may it be left?"
        inputProps={{ 'aria-label': 'Reason', ...register('reason') }}
      />
      <Button type="submit" variant="text" disabled={!formState.isValid}>
        Set aside
      </Button>
    </form>
  );
}

/** How a finding was got, what mends it, and the way to set it aside. */
function More({ finding, bodyId }: { finding: ShownFinding; bodyId: string }) {
  const [asking, setAsking] = useState(false);
  const [takeUp] = useTakeUpMutation();
  const { aside, mends = [] } = finding;
  const said = [
    words[finding.severity],
    finding.method,
    mends.length > 0 && `mended by ${mends.map((m) => mendWords[m]).join(' or ')}`,
  ];
  return (
    <Under>
      <small>{said.filter(Boolean).join(' · ')}</small>
      {aside !== null ? (
        <Button variant="text" onClick={() => void takeUp({ bodyId, code: aside.code })}>
          Take up again
        </Button>
      ) : asking ? (
        <ReasonForm bodyId={bodyId} code={finding.key} onDone={() => setAsking(false)} />
      ) : (
        <Button variant="text" onClick={() => setAsking(true)}>
          Set aside …
        </Button>
      )}
    </Under>
  );
}

function Entry({ finding, bodyId }: { finding: ShownFinding; bodyId: string }) {
  const dispatch = useAppDispatch();
  const picked = useAppSelector((s) => s.bench.finding) === finding.number;
  const tone = finding.aside === null ? finding.severity : 'aside';
  const [head, ...rest] = finding.message.split(/(?<=\.)\s+/);
  return (
    <Line aria-current={picked || undefined}>
      <LineButton
        component="button"
        className={tone}
        aria-pressed={picked}
        onClick={() => dispatch(pickFinding(picked ? null : finding.number))}
      >
        <span className={`pennant ${tone}`}>{finding.number}</span>
        <span>
          <b>{head.replace(/\.$/, '')}</b>
          {rest.length > 0 && <small>{rest.join(' ')}</small>}
          {finding.aside !== null && <small>Set aside: “{finding.aside.reason}”</small>}
        </span>
      </LineButton>
      {picked && <More finding={finding} bodyId={bodyId} />}
    </Line>
  );
}

/** Numbered facts, worst first. Picking one flies the bench to its place. */
export function Findings({ findings, bodyId, empty }: { findings: ShownFinding[]; bodyId: string; empty: string }) {
  if (findings.length === 0) return <p className="emptyState">{empty}</p>;
  return (
    <List component="ol" aria-label="Findings">
      {findings.map((f) => (
        <Entry key={f.key} finding={f} bodyId={bodyId} />
      ))}
    </List>
  );
}
