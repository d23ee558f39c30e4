import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { useState } from 'react';
import { tagsText } from '@jasmorphe/contracts/reading/tags';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import type { PrinterKind } from '@jasmorphe/core/params/checks';
import {
  bedfulAimNames,
  bedfulAims,
  turnRuleNames,
  turnRules,
  type TurnRule,
} from '@jasmorphe/core/planning/bedfuls/aims';
import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { countOf, fixed, massText, secondsText, saidAgain } from '@jasmorphe/core/words/numbers';
import { hrefOf } from '../../app/addresses.ts';
import { useKeepBedfulsMutation, useRatesQuery } from '../../app/daysApi.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { Consequences } from '../../decision/Consequences.tsx';
import { rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ChoiceField, YesNoField } from '../../forms/Fields.tsx';
import { Actions } from '../../ui/layout.ts';
import { Note } from '../../ui/Note.tsx';
import { BedDrawing } from './BedDrawing.tsx';
import { bedfulParams } from './bedfulParams.ts';
import { BedfulList } from './BedfulList.ts';
import { drawnOf, type DrawnBed } from './beds.ts';

/** How parts may be put on beds. */
export interface BedRules {
  /** each is printed to its end before the next is begun */
  inTurn: boolean;
  turn: TurnRule;
}

/** Bedfuls as they would be, each with its file. */
function Proposed({
  bodyId,
  stepId,
  bedfuls,
}: {
  bodyId: string;
  /** the answer that they stand in */
  stepId: string;
  bedfuls: ReportOf<'bedfuls'>['bedfuls'];
}) {
  const say = useSpeaker();
  return (
    <BedfulList>
      {bedfuls.map((bedful, i) => (
        <li key={`${stepId}${i}`}>
          <BedDrawing bed={drawnOf(bedful)} />
          <div>
            <b>Bedful {i + 1}</b> {bedful.printer}
            <br />
            {tagsText(bedful)}
            <br />
            <span className="figure">
              {secondsText(bedful.durationS)} · {massText(bedful.materialG)} · {fixed(bedful.fillPct, 0)} % full, gaps
              counted
            </span>
            {bedful.settings && <small>{saidAgain(bedful.settings, say)}</small>}
            <br />
            <Link
              href={hrefOf('GET /bodies/{id}/bedfuls/{step}/{n}', { id: bodyId, step: stepId, n: String(i + 1) })}
              underline="hover"
              download
            >
              Fetch it as 3MF
            </Link>
          </div>
        </li>
      ))}
    </BedfulList>
  );
}

/** What goes on which bed, three ways side by side, drawn; one of them is kept, or gone on with by hand. */
export function BedfulPlans({
  body,
  parts,
  printers,
  kind,
  models,
  together,
  onTogether,
  out,
  rules,
  onRules,
  onByHand,
  onKept,
}: {
  body: BodyView;
  /** those that wait for a bed */
  parts: readonly LaidPart[];
  /** on which they may be put */
  printers: readonly PrinterView[];
  kind: PrinterKind;
  /** how many of the project could share beds */
  models: number;
  /** they share them */
  together: boolean;
  onTogether: (together: boolean) => void;
  /** how many parts are left out, since nobody laid them */
  out: number;
  rules: BedRules;
  onRules: (rules: BedRules) => void;
  onByHand: (beds: DrawnBed[]) => void;
  onKept: () => void;
}) {
  const say = useSpeaker();
  const [chosen, setChosen] = useState(0);
  const [keep, keeping] = useKeepBedfulsMutation();
  const { inTurn, turn } = rules;
  const { data: rates, isLoading: looking } = useRatesQuery();
  const previews = usePreviews(
    body.id,
    body.mesh.hash,
    bedfulAims.map((aim) =>
      // asked with what is known of how often each printer fails, and not before that is known
      looking ? null : ask(catalogue.bedfuls, bedfulParams(parts, printers, aim, { ...rules, rates })),
    ),
  );
  const reports = previews.map((p) => reportOf(p, catalogue.bedfuls));
  const report = reports[chosen];
  const preview = previews[chosen];
  const stepId = preview.state === 'ready' ? preview.step.id : '';
  return (
    <>
      <p>
        {countOf(parts.length, 'part')} {together && `of ${models} models `}as{' '}
        {parts.length === 1 ? 'it lies' : 'they lie'}, on {printers.map((p) => p.profile.name).join(', ')}.
        {out > 0 && ` ${countOf(out, 'part')} not laid for ${kind} yet ${out === 1 ? 'is' : 'are'} left out.`}
        {printers.length > 1 &&
          ' On another printer than it was laid for a part keeps its settings, and its hours go by the speeds of that one.'}
      </p>
      {models > 1 && (
        <YesNoField
          label="With the other models of this project"
          hint="parts of all models that are laid share beds, those of one colour with one another; bedfuls of all of them that wait are planned anew"
          value={together}
          onChange={onTogether}
        />
      )}
      <ChoiceField
        label="Parts are turned"
        value={turn}
        choices={turnRules.map((rule) => ({ value: rule, text: turnRuleNames[rule] }))}
        onChange={(to) => onRules({ ...rules, turn: to })}
      />
      {kind === 'filament' && (
        <YesNoField
          label="One after the other"
          hint="each part is printed to its end before the next is begun: what fails spoils that one alone. The head needs room beside what stands, by the printer's settings"
          value={inTurn}
          onChange={(to) => onRules({ ...rules, inTurn: to })}
        />
      )}
      <Consequences
        options={bedfulAims.map((aim, i) => ({ name: bedfulAimNames[aim], preview: previews[i] }))}
        rows={rowsOf(catalogue.bedfuls, reports, { ...say, liquid: kind === 'resin' })}
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
            onClick={() => void keep({ modelId: body.modelId, stepId }).then((a) => 'data' in a && onKept())}
          >
            Keep these bedfuls
          </Button>
          <Button variant="outlined" onClick={() => onByHand(report.bedfuls.map(drawnOf))}>
            Move parts by hand
          </Button>
        </Actions>
      )}
      {report && <Proposed bodyId={body.id} stepId={stepId} bedfuls={report.bedfuls} />}
    </>
  );
}
