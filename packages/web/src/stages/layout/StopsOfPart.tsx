import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useEffect, useState } from 'react';
import { stopsOf } from '@jasmorphe/contracts/reading/stops';
import type { PartView } from '@jasmorphe/contracts/views';
import { catalogue, type ParamsOf, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { isHeld, type PrintStop, type StopWish } from '@jasmorphe/core/planning/layers/StopWish';
import { stopKinds, stopLine, stopText, stopTroubleText, type StopKind } from '@jasmorphe/core/trade/stopKinds';
import { countOf, fixed, type Speaker } from '@jasmorphe/core/words/numbers';
import { useRunStepMutation, wordsOf } from '../../app/api.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ChoiceField, LengthField, TextField } from '../../forms/Fields.tsx';
import { FieldsContext, useHold } from '../../forms/hold.ts';
import { WrongField } from '../../forms/WrongField.tsx';
import { JobPhase } from '../../jobs/JobProgress.tsx';
import { Note } from '../../ui/Note.tsx';
import { useDraft } from '../useDraft.ts';
import { usePickedPlace } from '../../decision/usePickedPlace.ts';
import { CloseIcon } from '../../ui/icons.tsx';
import { Actions, Block } from '../../ui/layout.ts';
import { Row, Rows } from '../../ui/Rows.ts';

const kindChoices: Record<StopKind, string> = { colour: 'another colour', insert: 'put something in', other: 'else' };
const wordsHints: Record<StopKind, string> = {
  colour: 'such as brass',
  insert: 'such as magnet 5 × 2',
  other: 'such as look at it',
};

/** When a stop is, and how much of the print is over then; or why it comes to nothing. */
const lineOf = (s: PrintStop, say: Speaker): string =>
  isHeld(s)
    ? `${stopLine(s, stopText(s), say)}, ${fixed(100 * s.share, 0)}\u00a0% in`
    : `${stopText(s)}: ${stopTroubleText(s.trouble)}`;

/** Stops as they were worked out, each to be taken away. */
function Listed({ stops, onDrop }: { stops: ReportOf<'stops'>['stops']; onDrop: (wish: number) => void }) {
  const say = useSpeaker();
  const { length } = say;
  return (
    <Rows component="ol" aria-label="Stops of this print">
      {stops.map((s) => (
        <Row key={s.wish}>
          <span className={s.trouble === null ? undefined : 'quiet'}>
            {lineOf(s, say).replace(/^./, (c) => c.toUpperCase())}
            {s.standsOutMm !== null &&
              (s.standsOutMm > 1e-6
                ? `; it stands out by ${length(s.standsOutMm)}: the head would hit it`
                : `; the head clears it by ${length(-s.standsOutMm)}`)}
          </span>
          <IconButton size="small" aria-label={`Take away: ${stopText(s)}`} onClick={() => onDrop(s.wish)}>
            <CloseIcon fontSize="inherit" />
          </IconButton>
        </Row>
      ))}
    </Rows>
  );
}

/** A stop to be added: what for, and at which height or place. */
function AddStop({ onAdd }: { onAdd: (wish: StopWish) => void }) {
  const [what, setWhat] = useState<StopKind>('colour');
  const [words, setWords] = useState('');
  const [mm, setMm] = useState<number | null>(null);
  const [highMm, setHigh] = useState<number | null>(null);
  const add = (where: Pick<StopWish, 'mm' | 'at'>): void => {
    onAdd({ what, words: words.trim(), highMm: what === 'insert' ? (highMm ?? 0) : 0, ...where });
    setMm(null);
    setWords('');
  };
  const pick = usePickedPlace('stop', (at) => add({ at }));
  const { wrong, held, submit, fields } = useHold(() => mm !== null && add({ mm }), mm === null);
  return (
    <FieldsContext value={fields}>
      <ChoiceField
        label="Stop for"
        value={what}
        choices={stopKinds.map((k) => ({ value: k, text: kindChoices[k] }))}
        onChange={setWhat}
      />
      <TextField label="Which" hint={wordsHints[what]} value={words} maxLength={60} onChange={setWords} />
      {what === 'insert' && (
        <LengthField
          label="How high it is"
          hint="it must not stand out when the roof begins"
          mm={highMm}
          optional
          onChange={setHigh}
        />
      )}
      <LengthField
        label="At height"
        hint="above the bed; the layer under it is the last before"
        mm={mm}
        optional
        onChange={setMm}
      />
      <Actions>
        <Button variant="outlined" disabled={held} onClick={submit}>
          Add the stop
        </Button>
        <Button variant="text" aria-pressed={pick.asking} disabled={wrong !== null} onClick={pick.toggle}>
          {pick.asking
            ? what === 'insert'
              ? 'Click into the hollow …'
              : 'Click where it begins …'
            : what === 'insert'
              ? 'Pick the hollow on the bench'
              : 'Pick the height on the bench'}
        </Button>
      </Actions>
      <WrongField wrong={wrong} />
    </FieldsContext>
  );
}

/** Where the print of a part stops, as it lies: worked out at once, and kept with the part by a press. */
export function StopsOfPart({
  part,
  drafts,
  rotation,
  printer,
  taken,
  fixed: fixedNow,
}: {
  part: PartView;
  /** what is not kept yet is known by this */
  drafts: string;
  rotation: number[][];
  printer: ParamsOf<'stops'>['printer'];
  /** it lies so already: stops can be kept */
  taken: boolean;
  /** it is on the bed */
  fixed: boolean;
}) {
  const kept = stopsOf(part);
  const [draft, setDraft] = useDraft<readonly StopWish[]>(`${drafts} stops`);
  const wishes = draft ?? kept?.step.params.stops ?? [];
  const [open, setOpen] = useState(false);
  const [runStep, sending] = useRunStepMutation();
  const params = {
    rotation: rotation as ParamsOf<'stops'>['rotation'],
    ...(printer ? { printer } : {}),
    stops: [...wishes],
  };
  const [found] = usePreviews(part.id, part.mesh.hash, [wishes.length > 0 ? ask(catalogue.stops, params) : null]);
  const report = reportOf(found, catalogue.stops);
  const asKept =
    kept === null
      ? wishes.length === 0
      : !kept.lapsed && JSON.stringify(kept.step.params.stops) === JSON.stringify(wishes);
  // what is kept is no draft any more
  useEffect(() => {
    if (draft && asKept) setDraft(null);
  }, [draft, asKept, setDraft]);
  return (
    <Block aria-label="Stops">
      <div className="label">Stops</div>
      {kept && !kept.lapsed && (
        <p className="figure">{countOf(kept.step.report.stops.filter(isHeld).length, 'stop')} kept</p>
      )}
      {kept?.lapsed && (
        <Note tone="attention">
          {part.tag} lies otherwise, or was cut anew, since its stops were kept. They are worked out anew below: keep
          them so.
        </Note>
      )}
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open
          ? 'Close the stops'
          : wishes.length > 0
            ? 'Change the stops'
            : 'Stop for another colour, or to put something in'}
      </Button>
      {wishes.length > 0 && found.state === 'working' && (
        <JobPhase jobId={found.jobId} before="Looking through its layers" />
      )}
      {found.state === 'failed' && found.error.code !== 'cancelled' && (
        <Note tone="failure">
          <b>{found.error.message}</b> {found.error.hint}
        </Note>
      )}
      {report && wishes.length > 0 && (
        <Listed stops={report.stops} onDrop={(wish) => setDraft(wishes.filter((_, i) => i !== wish))} />
      )}
      {open && <AddStop onAdd={(wish) => setDraft([...wishes, wish])} />}
      {sending.error && (
        <Note tone="failure">
          <b>{wordsOf(sending.error).message}</b> {wordsOf(sending.error).hint}
        </Note>
      )}
      {!asKept && (
        <Button
          variant="outlined"
          disabled={!taken || fixedNow || sending.isLoading || (wishes.length > 0 && !report)}
          onClick={() => void runStep({ bodyId: part.id, operation: catalogue.stops.name, params })}
        >
          {!taken ? 'Lay it so first, then keep the stops' : wishes.length > 0 ? 'Keep these stops' : 'Keep none'}
        </Button>
      )}
    </Block>
  );
}
