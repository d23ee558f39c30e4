import { useState } from 'react';
import type { DismissalView } from '@jasmorphe/contracts/views';
import type { Mender, Severity } from '@jasmorphe/core/inspect/Finding';
import { useDismissMutation, useTakeUpMutation } from '../app/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { pickFinding } from '../bench/benchSlice.ts';

/** A measured fact with its place and, if it was set aside, why. */
export interface ShownFinding {
  number: number;
  key: string;
  severity: Severity;
  message: string;
  at: [number, number, number] | null;
  span: number;
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

function Entry({ finding, bodyId }: { finding: ShownFinding; bodyId: string }) {
  const dispatch = useAppDispatch();
  const picked = useAppSelector((s) => s.bench.finding) === finding.number;
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  const [dismiss] = useDismissMutation();
  const [takeUp] = useTakeUpMutation();
  const tone = finding.aside === null ? finding.severity : 'aside';
  const [head, ...rest] = finding.message.split(/(?<=\.)\s+/);
  return (
    <li className={`finding ${tone}${picked ? ' picked' : ''}`}>
      <button
        type="button"
        className="findingMain"
        aria-pressed={picked}
        onClick={() => dispatch(pickFinding(picked ? null : finding.number))}
      >
        <span className={`pennant ${tone}`}>{finding.number}</span>
        <span>
          <b>{head.replace(/\.$/, '')}</b>
          {rest.length > 0 && <small>{rest.join(' ')}</small>}
          {finding.aside !== null && <small>Set aside: “{finding.aside.reason}”</small>}
        </span>
      </button>
      {picked && (
        <div className="findingMore">
          <small>
            {words[finding.severity]}
            {finding.method ? ` · ${finding.method}` : ''}
            {finding.mends && finding.mends.length > 0
              ? ` · mended by ${finding.mends.map((m) => mendWords[m]).join(' or ')}`
              : ''}
          </small>
          {finding.aside !== null ? (
            <button
              type="button"
              className="plain accent"
              onClick={() => void takeUp({ bodyId, code: finding.aside!.code })}
            >
              Take up again
            </button>
          ) : asking ? (
            <form
              onSubmit={(e) => {
                e.preventDefault();
                void dismiss({ bodyId, code: finding.key, reason }).then(() => setAsking(false));
              }}
            >
              <input
                autoFocus
                className="plainInput"
                aria-label="Reason"
                placeholder="Why may it be left?"
                value={reason}
                onChange={(e) => setReason(e.target.value)}
              />
              <button type="submit" className="plain accent" disabled={reason.trim().length < 3}>
                Set aside
              </button>
            </form>
          ) : (
            <button type="button" className="plain accent" onClick={() => setAsking(true)}>
              Set aside …
            </button>
          )}
        </div>
      )}
    </li>
  );
}

/** Numbered facts, worst first. Picking one flies the bench to its place. */
export function Findings({ findings, bodyId, empty }: { findings: ShownFinding[]; bodyId: string; empty: string }) {
  if (findings.length === 0) return <p className="emptyState">{empty}</p>;
  return (
    <ol className="findings" aria-label="Findings">
      {findings.map((f) => (
        <Entry key={f.key} finding={f} bodyId={bodyId} />
      ))}
    </ol>
  );
}
