import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { useState, type ReactNode } from 'react';
import type { BatchAnswer, KitView } from '@jasmorphe/contracts/kitViews';
import { isStepOf, type StepOf } from '@jasmorphe/contracts/steps';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { fixed } from '@jasmorphe/core/words/numbers';
import { hrefOf } from '../app/addresses.ts';
import { useBatchAnswersQuery, useRunBatchMutation } from '../app/kitApi.ts';
import { useLength } from '../app/useLength.ts';
import { testPiecesOf } from './testPiecesOf.ts';
import { Block } from '../ui/layout.ts';

const traitsOf = ({ step }: BatchAnswer): StepOf<'traits'> | null =>
  step && isStepOf(step, catalogue.traits) ? step : null;

/** A piece to print first: where it is, why, and its file at its own size. */
function Proposal({
  piece,
  fetched,
  onPick,
  children,
}: {
  piece: { id: string; name: string };
  /** its file may go out as it is */
  fetched: boolean;
  onPick: (id: string) => void;
  children: ReactNode;
}) {
  return (
    <p>
      <Button variant="text" onClick={() => onPick(piece.id)}>
        {piece.name}
      </Button>{' '}
      {children}{' '}
      {fetched && (
        <Link
          href={hrefOf('GET /bodies/{id}/export', { id: piece.id }, { format: '3mf', what: 'whole', size: 'own' })}
          underline="hover"
          download
        >
          Fetch it at its own size
        </Link>
      )}
    </p>
  );
}

/** Which piece is printed first, at the file's own size: the one that is finest, and the one that hangs over most. */
export function TestPieces({ kit, onPick }: { kit: KitView; onPick: (id: string) => void }) {
  const length = useLength();
  const [run, { isLoading }] = useRunBatchMutation();
  const [batchId, setBatchId] = useState<string | null>(null);
  const { data } = useBatchAnswersQuery(batchId ?? '', { skip: batchId === null });
  const ids = kit.pieces.filter((p) => p.aside === null).map((p) => p.id);
  const ask = async () => {
    const made = await run({
      projectId: kit.projectId,
      operation: catalogue.traits.name,
      params: {},
      bodyIds: ids,
      dry: true,
    });
    if (made.data) setBatchId(made.data.id);
  };
  const known = (data?.answers ?? []).flatMap((a) => {
    const step = traitsOf(a);
    return step ? [{ id: a.bodyId, name: a.name, ...step.report }] : [];
  });
  // what may not be passed on is fetched on its own page, after a word
  const free = (id: string) => kit.pieces.some((p) => p.id === id && !p.keptBack);
  const found = data && data.batch.open === 0 ? testPiecesOf(known) : null;
  return (
    <Block aria-label="Test piece">
      <div className="label accent">Which piece is printed first?</div>
      {!found && (
        <Button variant="text" disabled={isLoading || (data?.batch.open ?? 0) > 0} onClick={() => void ask()}>
          {(data?.batch.open ?? 0) > 0 ? 'Looking them over' : 'Look them over for fineness and overhang'}
        </Button>
      )}
      {found?.finest && (
        <Proposal piece={found.finest} fetched={free(found.finest.id)} onPick={onPick}>
          has the finest detail: a sharp edge every {length(found.finest.detailMm!)}.
        </Proposal>
      )}
      {found?.hanging && (
        <Proposal piece={found.hanging} fetched={free(found.hanging.id)} onPick={onPick}>
          hangs over most: {fixed(found.hanging.overhangPct, 0)} % of its skin.
        </Proposal>
      )}
      {found && <p className="quiet">Printed at the file's own size they tell what the kit will ask of the printer.</p>}
    </Block>
  );
}
