import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Link from '@mui/material/Link';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { tagsText } from '@jasmorphe/contracts/reading/tags';
import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import { stopLine } from '@jasmorphe/core/trade/stopKinds';
import { countOf, massText, secondsText } from '@jasmorphe/core/words/numbers';
import { isPrinting } from '@jasmorphe/core/planning/printState';
import { hrefOf } from '../app/addresses.ts';
import { useEndBedfulMutation, useStartBedfulMutation, useUndoBedfulMutation } from '../app/daysApi.ts';
import { useSpeaker } from '../app/useLength.ts';
import { ChoiceField, LengthField, NumberField } from '../forms/Fields.tsx';
import { FieldsContext, useHold } from '../forms/hold.ts';
import { WrongField } from '../forms/WrongField.tsx';
import { Note } from '../ui/Note.tsx';
import { useMaterialsQuery, useSpoolsQuery } from '../workshop/workshopApi.ts';
import { ByLog } from './ByLog.tsx';
import { StopsHere } from './StopsHere.tsx';
import { troubleText } from './bedfulWords.ts';

/** What came of a bedful: which parts stopped and where, how long it took, what it was printed from. */
function OffTheBed({ bedful }: { bedful: BedfulView }) {
  const [end, { isLoading }] = useEndBedfulMutation();
  const [stopped, setStopped] = useState<Record<string, number | null>>({});
  const [hours, setHours] = useState<number | null>(null);
  const [spoolId, setSpool] = useState('');
  const [grams, setGrams] = useState<number | null>(Math.round(bedful.materialG));
  const { data: spools = [] } = useSpoolsQuery();
  const { data: materials = [] } = useMaterialsQuery();
  const suiting = spools.filter(
    (s) => s.endedAt === null && materials.find((m) => m.id === s.materialId)?.kind === bedful.kind,
  );
  const printing = bedful.parts.filter(isPrinting);
  const unclear = Object.values(stopped).some((mm) => mm === null) || (spoolId !== '' && grams === null);
  const said = Object.entries(stopped).map(([tag, mm]) => ({ tag, heightMm: mm ?? 0 }));
  const { wrong, held, submit, fields } = useHold(
    () =>
      void end({
        id: bedful.id,
        modelId: bedful.modelId,
        stopped: said,
        ...(hours === null ? {} : { hours }),
        ...(spoolId !== '' && grams !== null ? { taken: [{ spoolId, grams }] } : {}),
      }),
    isLoading || unclear,
  );
  return (
    <FieldsContext value={fields}>
      <fieldset className="fields">
        <legend className="label">Tick what stopped; all else looks right</legend>
        {printing.map(({ tag, heightMm }) => (
          <div key={tag}>
            <FormControlLabel
              label={tag}
              control={
                <Checkbox
                  checked={tag in stopped}
                  onChange={(_e, on) =>
                    setStopped((old) =>
                      on ? { ...old, [tag]: null } : Object.fromEntries(Object.entries(old).filter(([t]) => t !== tag)),
                    )
                  }
                />
              }
            />
            {tag in stopped && (
              <LengthField
                label={`${tag} stopped at, by calipers`}
                hint="from the bed, as it lies; 0 if nothing stands"
                mm={stopped[tag]}
                most={heightMm + 0.5}
                onChange={(mm) => setStopped((old) => ({ ...old, [tag]: mm }))}
              />
            )}
          </div>
        ))}
        <NumberField
          label="Hours that it took"
          hint={`planned: ${secondsText(bedful.durationS)}; what is said here teaches the plan`}
          value={hours}
          optional
          least={0}
          most={10_000}
          onChange={setHours}
        />
        <ChoiceField
          label={bedful.kind === 'resin' ? 'From the bottle' : 'From the spool'}
          value={spoolId}
          choices={[{ value: '', text: 'not said' }, ...suiting.map((s) => ({ value: s.id, text: s.name }))]}
          onChange={setSpool}
        />
        {spoolId !== '' && <NumberField label="Grams" value={grams} least={0} most={100_000} onChange={setGrams} />}
      </fieldset>
      <Button variant="contained" size="large" disabled={held} onClick={submit}>
        {said.length === 0 ? 'It is off the bed, all looks right' : `It is off the bed, ${said.length} stopped`}
      </Button>
      <WrongField wrong={wrong} />
    </FieldsContext>
  );
}

const AtMachine = styled('section')({
  display: 'grid',
  gap: 8,
  justifyItems: 'start',
  '& fieldset': { border: 0, padding: 0, margin: 0, width: '100%' },
});

/** A bedful at its printer: started as one, and off the bed as one. */
export function BedfulAtMachine({ bedful }: { bedful: BedfulView }) {
  const [start, starting] = useStartBedfulMutation();
  const [undo, undoing] = useUndoBedfulMutation();
  const say = useSpeaker();
  const of = { id: bedful.id, modelId: bedful.modelId };
  const odd = bedful.parts.filter((p) => p.trouble !== null);
  const busy = starting.isLoading || undoing.isLoading;
  return (
    <AtMachine aria-label={`Bedful ${bedful.number}`}>
      <p>
        <b>Bedful {bedful.number}</b> on {bedful.printer}: {tagsText(bedful)}
        {bedful.inTurn && ', one after the other'}
        <br />
        <span className="figure">
          {countOf(bedful.parts.length, 'part')} · {secondsText(bedful.durationS)} · {massText(bedful.materialG)}
        </span>
      </p>
      {bedful.state !== 'done' && (
        <ByLog printerId={bedful.printerId} seconds={bedful.durationS} kind={bedful.kind} colour={bedful.colour} />
      )}
      {odd.length > 0 && (
        <Note tone="attention">
          {odd.map((p) => `${p.tag} ${troubleText[p.trouble!]}`).join(', ')}. Plan the bedfuls anew at Lay out; nothing
          of this one is lost.
        </Note>
      )}
      {bedful.state !== 'done' && <StopsHere stops={bedful.stops.map((s) => stopLine(s, s.says, say))} />}
      {bedful.state === 'waiting' && bedful.printerId === null && (
        <Note tone="attention">{bedful.printer} is gone, or no longer printed with. Plan the bedfuls anew.</Note>
      )}
      {bedful.state === 'waiting' && (
        <>
          <Link href={hrefOf('GET /bedfuls/{id}/file', { id: bedful.id })} underline="hover" download>
            Fetch it as 3MF
          </Link>
          <Button
            variant="contained"
            size="large"
            disabled={busy || odd.length > 0 || bedful.printerId === null}
            onClick={() => void start(of)}
          >
            Bedful {bedful.number} is started
          </Button>
        </>
      )}
      {bedful.state === 'printing' && <OffTheBed key={bedful.id} bedful={bedful} />}
      {bedful.state !== 'waiting' && (
        <Button variant="text" disabled={busy} onClick={() => void undo(of)}>
          {bedful.state === 'printing' ? 'It was not started after all' : 'It is not off the bed after all'}
        </Button>
      )}
    </AtMachine>
  );
}
