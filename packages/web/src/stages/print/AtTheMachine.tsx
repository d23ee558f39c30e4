import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { styled } from '@mui/material/styles';
import { CreateLogEntry } from '@jasmorphe/contracts/requests';
import { heldBy } from '@jasmorphe/contracts/reading/laidPart';
import { stopsInForce } from '@jasmorphe/contracts/reading/stops';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { stopLine, stopText } from '@jasmorphe/core/trade/stopKinds';
import { massText, whole, saidAgain } from '@jasmorphe/core/words/numbers';
import { isAside, isPrinted, isPrinting, isToPrint, isWaiting } from '@jasmorphe/core/planning/printState';
import { hrefOf } from '../../app/addresses.ts';
import { useMovePrintMutation } from '../../app/api.ts';
import { shownKey } from '../../app/keys.ts';
import { useLength, useSpeaker } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { FieldsContext, useHold } from '../../forms/hold.ts';
import { ParamFields, ParamLength } from '../../forms/ParamFields.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { KeyCap } from '../../ui/KeyCap.tsx';
import { Note } from '../../ui/Note.tsx';
import { StopsHere } from '../../days/StopsHere.tsx';
import { useSay } from './useSay.ts';
import { FetchLine } from '../../ui/layout.ts';

const PartName = styled('h2')({ fontFamily: 'var(--mono)', fontSize: 32, fontWeight: 600, lineHeight: 1 });

const headOf = (part: PartView): string =>
  ({
    printing: 'On the bed',
    printed: part.rests > 0 ? 'Printed, in pieces' : 'Printed',
    planned: part.rests > 0 ? 'The rest, to print' : 'To print',
    failed: 'Stopped',
    aside: 'Set aside',
  })[part.state];

/** A print that is on: it looks right, or it stopped at a height. Nothing is prefilled that a careless press would log. */
function OnTheBed({
  part,
  busy,
  say,
}: {
  part: PartView;
  busy: boolean;
  say: (outcome: 'passed' | 'failed', heightMm?: number) => void;
}) {
  const length = useLength();
  const form = useParamsForm(CreateLogEntry, {});
  const height = form.values.heightMm;
  const { wrong, held, submit, fields } = useHold(
    () => height !== undefined && say('failed', height),
    height === undefined || busy,
  );
  const given = height !== undefined && wrong === null ? height : null;
  return (
    <FieldsContext value={fields}>
      <Button variant="contained" size="large" disabled={busy} onClick={() => say('passed')}>
        Looks right
      </Button>
      <ParamFields of={form}>
        <ParamLength
          name="heightMm"
          label="Or it stopped at, by calipers"
          hint="from the bed, as it lies; 0 if nothing stands"
          most={part.heightMm}
        />
      </ParamFields>
      <Button variant="outlined" color="error" size="large" disabled={held} onClick={submit}>
        {given === null ? 'It stopped: give the height' : `It stopped at ${length(given)}`}
      </Button>
    </FieldsContext>
  );
}

/** What was cut off, and what to do with the rest. */
function RestNote({ part }: { part: PartView }) {
  const length = useLength();
  const recut = lastStepOf(part.line, part.cursor, catalogue.recut)?.report;
  if (!recut || isPrinted(part)) return null;
  return (
    <Note tone="advice">
      Cut at {length(recut.cutAtMm)}, {whole(recut.layersKept)} layers stand. {length(recut.remainingHeightMm)} are
      left: print them cut face down. Then roughen both faces with coarse paper, glue, and weight it down for about 30
      min.
    </Note>
  );
}

/** One part at the machine: started, looks right, stopped at a height. */
export function AtTheMachine({ part, body, printers }: { part: PartView; body: BodyView; printers: PrinterView[] }) {
  const speak = useSpeaker();
  const { length } = speak;
  const { resin, density } = usePrinter(printers);
  const { say, saying } = useSay(body, part);
  const [move, moving] = useMovePrintMutation();
  const volume = part.mesh.facts.volumeMm3;
  const busy = saying || moving.isLoading || body.busyJobId !== null;
  const fileOf = (pose?: 'bed') =>
    hrefOf('GET /bodies/{id}/export', { id: part.id }, { format: '3mf', ...(pose && { pose }) });
  return (
    <section className="decision machine" aria-label="At the machine">
      <div className="label accent">{headOf(part)}</div>
      <PartName>{part.tag}</PartName>
      <p className="figure">
        {length(part.heightMm)} high as it lies
        {volume !== null && ` · ${speak.volume(volume, resin)}, ${massText((volume / 1000) * density)} solid`}
      </p>
      <RestNote part={part} />
      {!part.fits && part.rests === 0 && (
        <Note tone="failure">
          {part.posed ? (
            <>
              <b>It reaches beyond the bed</b> as it lies. Lay it otherwise at Lay out.
            </>
          ) : (
            <>
              <b>It does not fit the bed</b> that it was cut for, in any pose. Cut it again at Divide.
            </>
          )}
        </Note>
      )}
      {isWaiting(part) && heldBy(part) !== '' && <p>It was laid out with a {saidAgain(heldBy(part), speak)}.</p>}
      {(isWaiting(part) || isPrinting(part)) && (
        <StopsHere stops={stopsInForce(part).map((s) => stopLine(s, stopText(s), speak))} />
      )}
      {isWaiting(part) && (
        <Button variant="contained" size="large" disabled={busy} onClick={() => say('started')}>
          It is started
        </Button>
      )}
      {isPrinting(part) && <OnTheBed part={part} busy={busy} say={say} />}
      {!isToPrint(part) && (
        <Button variant="outlined" size="large" disabled={busy} onClick={() => say('again')}>
          {isAside(part) ? 'Take it up again' : 'Print it again'}
        </Button>
      )}
      {isWaiting(part) && (
        <Button variant="text" disabled={busy} onClick={() => say('aside')}>
          Set it aside
        </Button>
      )}
      <FetchLine>
        Fetch {part.tag}
        <Link href={fileOf('bed')} underline="hover" download>
          as it lies
        </Link>
        <Link href={fileOf()} underline="hover" download>
          as it stands in the model
        </Link>
      </FetchLine>
      {part.canUndoPrint && (
        <Button
          variant="text"
          disabled={busy}
          onClick={() => void move({ partId: part.id, modelId: body.id, way: 'undo' })}
        >
          Take that back&nbsp;<KeyCap>{shownKey('words', 'takeBack')}</KeyCap>
        </Button>
      )}
      {part.canRedoPrint && (
        <Button
          variant="text"
          disabled={busy}
          onClick={() => void move({ partId: part.id, modelId: body.id, way: 'redo' })}
        >
          It was so after all&nbsp;<KeyCap>{shownKey('words', 'sayAgain')}</KeyCap>
        </Button>
      )}
      <p className="foot">
        {isPrinting(part)
          ? resin
            ? 'Uncured resin sensitises skin for life: gloves, eyes, ventilation.'
            : 'Unattended or overnight only with working thermal protection and a smoke alarm.'
          : 'What is said here is kept in the log; a wrong word is taken back by another.'}
      </p>
    </section>
  );
}
