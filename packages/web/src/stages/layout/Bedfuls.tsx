import { lazyPart } from '../../app/Boundary.tsx';
import Button from '@mui/material/Button';
import { useMemo, useState } from 'react';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { countOf } from '@jasmorphe/core/words/numbers';
import { isWaiting } from '@jasmorphe/core/planning/printState';
import { useBedfulsQuery } from '../../app/daysApi.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { isShared } from '../../days/bedfulWords.ts';
import { Block } from '../../ui/layout.ts';
import { partsOnBeds, printersFor } from './bedfulParams.ts';
import { BedfulPlans, type BedRules } from './BedfulPlans.tsx';
import { drawnOf, type DrawnBed } from './beds.ts';
import { CopiesOfModel } from './CopiesOfModel.tsx';
import { KeptBedfuls } from './KeptBedfuls.tsx';
import { useOtherModels } from './useOtherModels.ts';

const ArrangeBeds = lazyPart(() => import('./ArrangeBeds.tsx'));

/** What goes on which bed: three ways side by side, drawn, and a file of each bedful. */
export function Bedfuls({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const { printer } = usePrinter(printers);
  const [open, setOpen] = useState(false);
  const [rules, setRules] = useState<BedRules>({ inTurn: false, turn: 'any' });
  const [byHand, setByHand] = useState<(BedRules & { beds: readonly DrawnBed[] }) | null>(null);
  const [wish, setWish] = useState<boolean | null>(null);
  const { data: kept } = useBedfulsQuery(body.modelId);
  const beside = useOtherModels(body);
  const kind = printer?.profile.kind ?? 'filament';
  const { own, all } = useMemo(() => {
    const model = { ...body, whole: body.parts.length === 1 };
    return { own: partsOnBeds([model], kind), all: partsOnBeds([model, ...beside.models], kind) };
  }, [body, beside, kind]);
  const others = own.models > 0 && all.models > own.models;
  // what shares a bed with parts of other models is not torn apart
  const shares = kept?.bedfuls.some((b) => b.state === 'waiting' && isShared(b)) ?? false;
  const together = others && (wish ?? shares);
  const { laid: parts, tags } = together ? all : own;
  const elsewhere = beside.bedfuls.filter(
    (b) => b.state !== 'done' && b.parts.every((p) => p.modelId !== body.modelId),
  ).length;
  const used = printersFor(printers, kind);
  const waiting = body.parts.filter(isWaiting).length;
  return (
    <Block aria-label="Bedfuls">
      <div className="label">Bedfuls</div>
      <CopiesOfModel body={body} />
      {kept && kept.bedfuls.length > 0 && (
        <KeptBedfuls
          modelId={body.modelId}
          kept={kept}
          onArrange={() => {
            const now = (together ? beside.bedfuls : kept.bedfuls).filter((b) => b.state === 'waiting');
            setByHand({
              beds: now
                .filter((b) => used.some((p) => p.id === b.printerId))
                // each by how it is called now
                .map((b) => ({ ...b, parts: b.parts.map((p) => ({ ...p, tag: tags.get(p.partId) ?? p.tag })) }))
                .map(drawnOf),
              turn: rules.turn,
              inTurn: now.some((b) => b.inTurn),
            });
          }}
        />
      )}
      {elsewhere > 0 && (
        <p className="quiet">
          {countOf(elsewhere, 'bedful')} of this project {elsewhere === 1 ? 'holds' : 'hold'} parts of its other models
          alone.
        </p>
      )}
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Close the choice' : kept?.bedfuls.length ? 'Plan them anew' : 'What goes on which bed?'}
      </Button>
      {byHand && (
        <ArrangeBeds
          body={body}
          parts={parts}
          printers={used}
          inTurn={byHand.inTurn}
          turn={byHand.turn}
          start={byHand.beds
            .map((b) => ({ ...b, parts: b.parts.filter((p) => parts.some((q) => q.tag === p.tag)) }))
            .filter((b) => b.parts.length > 0)}
          onClose={() => setByHand(null)}
        />
      )}
      {open && parts.length === 0 && <p className="quiet">No part that is laid for {kind} waits for a bed.</p>}
      {open && parts.length > 0 && used.length === 0 && (
        <p className="quiet">No printer is there to put them on: add one at the workshop.</p>
      )}
      {open && parts.length > 0 && used.length > 0 && (
        <BedfulPlans
          body={body}
          parts={parts}
          printers={used}
          kind={kind}
          models={others ? all.models : 1}
          together={together}
          onTogether={setWish}
          out={waiting - own.laid.length}
          rules={rules}
          onRules={setRules}
          onByHand={(beds) => setByHand({ beds, ...rules })}
          onKept={() => setOpen(false)}
        />
      )}
    </Block>
  );
}
