import Button from '@mui/material/Button';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import { useCallback, useState } from 'react';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { useMovePrintMutation } from '../../app/api.ts';
import { massText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { LengthField } from '../../decision/Fields.tsx';
import { FieldsContext } from '../../decision/fieldsOfDecision.ts';
import { useSay } from './useSay.ts';

const headOf = (part: PartView): string =>
  ({
    printing: 'On the bed',
    printed: part.rests > 0 ? 'Printed, in pieces' : 'Printed',
    planned: part.rests > 0 ? 'The rest, to print' : 'To print',
    failed: 'Stopped',
    aside: 'Set aside',
  })[part.state];

/** One part at the machine: started, looks right, stopped at a height. */
export function AtTheMachine({ part, body, printers }: { part: PartView; body: BodyView; printers: PrinterView[] }) {
  const length = useLength();
  const { resin, density } = usePrinter(printers);
  const { say, saying } = useSay(body, part);
  const [move, moving] = useMovePrintMutation();
  const [height, setHeight] = useState<number | null>(null);
  const [unclear, setUnclear] = useState(false);
  const tell = useCallback((_id: string, why: string | null) => setUnclear(why !== null), []);
  const volume = part.mesh.facts.volumeMm3;
  const busy = saying || moving.isLoading || body.busyJobId !== null;
  const recut = lastStepOf(part.line, part.cursor, catalogue.recut)?.report;
  const undo = part.canUndoPrint && (
    <Button
      variant="text"
      disabled={busy}
      onClick={() => void move({ partId: part.id, modelId: body.id, way: 'undo' })}
    >
      Take that back <span className="key">U</span>
    </Button>
  );
  return (
    <section className="decision machine" aria-label="At the machine">
      <div className="label accent">{headOf(part)}</div>
      <h2 className="partName">{part.tag}</h2>
      <p className="figure">
        {length(part.heightMm)} high as it lies
        {volume !== null && ` · ${volumeText(volume, resin)}, ${massText((volume / 1000) * density)} solid`}
      </p>
      {recut && part.state !== 'printed' && (
        <div className="warningBox advice">
          Cut at {length(recut.cutAtMm)}, {whole(recut.layersKept)} layers stand. {length(recut.remainingHeightMm)} are
          left: print them cut face down. Then roughen both faces with coarse paper, glue, and weight it down for about
          30 min.
        </div>
      )}
      {!part.fits && part.rests === 0 && (
        <div className="warningBox failure">
          <b>It does not fit the bed</b> that it was cut for, in any pose. Cut it again at Divide.
        </div>
      )}
      {part.state === 'planned' && (
        <Button variant="contained" className="big" disabled={busy} onClick={() => say('started')}>
          It is started
        </Button>
      )}
      {part.state === 'printing' && (
        <FieldsContext value={{ tell, submit: () => height !== null && !unclear && !busy && say('failed', height) }}>
          <Button variant="contained" className="big" disabled={busy} onClick={() => say('passed')}>
            Looks right
          </Button>
          <LengthField
            label="Or it stopped at, by calipers"
            hint="from the bed, as it lies; 0 if nothing stands"
            mm={height}
            onChange={setHeight}
            most={part.heightMm}
            optional
            zero
          />
          <Button
            variant="outlined"
            color="error"
            className="big"
            disabled={busy || height === null || unclear}
            onClick={() => say('failed', height!)}
          >
            {height === null || unclear ? 'It stopped: give the height' : `It stopped at ${length(height)}`}
          </Button>
        </FieldsContext>
      )}
      {(part.state === 'printed' || part.state === 'aside') && (
        <Button variant="outlined" className="big" disabled={busy} onClick={() => say('again')}>
          {part.state === 'aside' ? 'Take it up again' : 'Print it again'}
        </Button>
      )}
      {part.state === 'planned' && (
        <Button variant="text" disabled={busy} onClick={() => say('aside')}>
          Set it aside
        </Button>
      )}
      <div className="fetchPart">
        Fetch {part.tag}
        <a className="plain accent" href={`/api/bodies/${part.id}/export?format=3mf&pose=bed`} download>
          as it lies
        </a>
        <a className="plain accent" href={`/api/bodies/${part.id}/export?format=3mf`} download>
          as it stands in the model
        </a>
      </div>
      {undo}
      <p className="foot">
        {part.state === 'printing'
          ? resin
            ? 'Uncured resin sensitises skin for life: gloves, eyes, ventilation.'
            : 'Unattended or overnight only with working thermal protection and a smoke alarm.'
          : 'What is said here is kept in the log; a wrong word is taken back by another.'}
      </p>
    </section>
  );
}
