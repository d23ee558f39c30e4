import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { useMemo, useState } from 'react';
import { tagsText } from '@jasmorphe/contracts/tags';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import {
  bedfulAimNames,
  bedfulAims,
  turnRuleNames,
  turnRules,
  type TurnRule,
} from '@jasmorphe/core/planning/bedfuls/aims';
import { countOf, fixed, massText, secondsText } from '@jasmorphe/core/words/numbers';
import { useBedfulsQuery, useKeepBedfulsMutation } from '../../app/daysApi.ts';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { ChoiceField, YesNoField } from '../../forms/Fields.tsx';
import { Consequences } from '../../decision/Consequences.tsx';
import { rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { Note } from '../../ui/Note.tsx';
import { ArrangeBeds } from './ArrangeBeds.tsx';
import { BedDrawing } from './BedDrawing.tsx';
import { drawnOf, type DrawnBed } from './beds.ts';
import { KeptBedfuls } from './KeptBedfuls.tsx';
import { isShared } from '../../days/bedfulWords.ts';
import { bedfulParams, partsOnBeds, printersFor } from './bedfulParams.ts';
import { useOtherModels } from './useOtherModels.ts';
import { CopiesOfModel } from './CopiesOfModel.tsx';
import { Actions, Block } from '../../ui/layout.ts';
import { BedfulList } from './BedfulList.ts';

/** What goes on which bed: three ways side by side, drawn, and a file of each bedful. */
export function Bedfuls({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const length = useLength();
  const { printer, resin } = usePrinter(printers);
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState(0);
  const [inTurn, setInTurn] = useState(false);
  const [turn, setTurn] = useState<TurnRule>('any');
  const [byHand, setByHand] = useState<{ beds: readonly DrawnBed[]; inTurn: boolean; turn: TurnRule } | null>(null);
  const [wish, setWish] = useState<boolean | null>(null);
  const { data: kept } = useBedfulsQuery(body.modelId);
  const beside = useOtherModels(body);
  const [keep, keeping] = useKeepBedfulsMutation();
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
  const waiting = body.parts.filter((p) => p.state === 'planned').length;
  const out = waiting - own.laid.length;
  const asks = open && parts.length > 0 && used.length > 0;
  const previews = usePreviews(
    body.id,
    body.mesh.hash,
    bedfulAims.map((aim) => (asks ? ask(catalogue.bedfuls, bedfulParams(parts, used, aim, { inTurn, turn })) : null)),
  );
  const reports = previews.map((p) => reportOf(p, catalogue.bedfuls));
  const report = reports[chosen];
  const preview = previews[chosen];
  const stepId = preview.state === 'ready' ? preview.step.id : '';
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
              inTurn: now.some((b) => b.inTurn),
              turn,
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
      {asks && (
        <>
          <p>
            {countOf(parts.length, 'part')} {together && `of ${all.models} models `}as{' '}
            {parts.length === 1 ? 'it lies' : 'they lie'}, on {used.map((p) => p.profile.name).join(', ')}.
            {out > 0 && ` ${countOf(out, 'part')} not laid for ${kind} yet ${out === 1 ? 'is' : 'are'} left out.`}
            {used.length > 1 &&
              ' On another printer than it was laid for a part keeps its settings, and its hours go by the speeds of that one.'}
          </p>
          {others && (
            <YesNoField
              label="With the other models of this project"
              hint="parts of all models that are laid share beds, those of one colour with one another; bedfuls of all of them that wait are planned anew"
              value={together}
              onChange={setWish}
            />
          )}
          <ChoiceField
            label="Parts are turned"
            value={turn}
            choices={turnRules.map((rule) => ({ value: rule, text: turnRuleNames[rule] }))}
            onChange={setTurn}
          />
          {kind === 'filament' && (
            <YesNoField
              label="One after the other"
              hint="each part is printed to its end before the next is begun: what fails spoils that one alone. The head needs room beside what stands, by the printer's settings"
              value={inTurn}
              onChange={setInTurn}
            />
          )}
          <Consequences
            options={bedfulAims.map((aim, i) => ({ name: bedfulAimNames[aim], preview: previews[i] }))}
            rows={rowsOf(catalogue.bedfuls, reports, { length, liquid: resin })}
            chosen={chosen}
            advised={null}
            onChoose={setChosen}
          />
          {preview.state === 'failed' && preview.error.code !== 'cancelled' && (
            <Note tone="failure">
              <b>{preview.error.message}</b> {preview.error.hint}
            </Note>
          )}
          {report && report.left.length > 0 && (
            <Note tone="failure">
              <b>No bed takes {report.left.join(', ')}</b> as {report.left.length === 1 ? 'it lies' : 'they lie'}.
            </Note>
          )}
          {report && report.bedfuls.length > 0 && (
            <Actions>
              <Button
                variant="contained"
                disabled={keeping.isLoading}
                onClick={() => void keep({ modelId: body.modelId, stepId }).then((a) => 'data' in a && setOpen(false))}
              >
                Keep these bedfuls
              </Button>
              <Button variant="outlined" onClick={() => setByHand({ beds: report.bedfuls.map(drawnOf), inTurn, turn })}>
                Move parts by hand
              </Button>
            </Actions>
          )}
          <BedfulList>
            {report?.bedfuls.map((bedful, i) => (
              <li key={`${stepId}${i}`}>
                <BedDrawing bed={drawnOf(bedful)} />
                <div>
                  <b>Bedful {i + 1}</b> {bedful.printer}
                  <br />
                  {tagsText(bedful)}
                  <br />
                  <span className="figure">
                    {secondsText(bedful.durationS)} · {massText(bedful.materialG)} · {fixed(bedful.fillPct, 0)} % full,
                    gaps counted
                  </span>
                  {bedful.settings && <small>{bedful.settings}</small>}
                  <br />
                  <Link href={`/api/bodies/${body.id}/bedfuls/${stepId}/${i + 1}`} underline="hover" download>
                    Fetch it as 3MF
                  </Link>
                </div>
              </li>
            ))}
          </BedfulList>
        </>
      )}
    </Block>
  );
}
