import Button from '@mui/material/Button';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { useState } from 'react';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import type { RecutReport } from '@jasmorphe/core/operations/recut/describe';
import { figures } from '@jasmorphe/core/trade/figures';
import { useBodyQuery, useRunStepMutation } from '../../app/api.ts';
import { fixed, massText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { Decision } from '../../decision/Decision.tsx';
import { LengthField } from '../../decision/Fields.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { useSay } from './useSay.ts';

/** A part that stopped at a height: what of it can be saved. */
export function RecutDesk({ part, body, printers }: { part: PartView; body: BodyView; printers: PrinterView[] }) {
  const length = useLength();
  const { printer, resin, density } = usePrinter(printers);
  const { data: own } = useBodyQuery(part.id);
  const [runStep, { isLoading }] = useRunStepMutation();
  const { say, saying } = useSay(body, part);
  const [printed, setPrinted] = useState(part.failedAtMm ?? 0);
  const [layer, setLayer] = useState<number>(printer?.profile.layerMm ?? figures.layerMm.value);
  const [first, setFirst] = useState<number>(printer?.profile.firstLayerMm ?? figures.firstLayerMm.value);
  const [chosen, setChosen] = useState(0);
  const nothing = printed < first;
  const options = [0, 2, 10].map((layers) => ({
    printed,
    layer,
    firstLayer: first,
    backOff: Number((layers * layer).toFixed(4)),
    up: part.up,
  }));
  const previews = usePreviews(
    part.id,
    part.mesh.hash,
    options.map((params) => (nothing ? null : ask(catalogue.recut, params))),
  );
  const reports = previews.map((p) => reportOf(p, catalogue.recut));
  const cell = (of: (r: RecutReport) => string) => reports.map((r) => (r ? of(r) : null));
  const broadest = reports.reduce(
    (best, r, i) => (r && r.contactAreaMm2 > 1.25 * (reports[best]?.contactAreaMm2 ?? 0) ? i : best),
    0,
  );
  const busy = own?.busyJobId != null || body.busyJobId !== null;
  const others = (
    <div className="otherAnswers" role="group" aria-label="Other answers">
      <Button variant="outlined" size="small" disabled={saying || busy} onClick={() => say('again')}>
        Print it again
      </Button>
      <Button variant="outlined" size="small" disabled={saying || busy} onClick={() => say('passed')}>
        Take it as it is
      </Button>
      <Button variant="outlined" size="small" disabled={saying || busy} onClick={() => say('aside')}>
        Set it aside
      </Button>
    </div>
  );
  return (
    <Decision
      step={`${part.tag} stopped`}
      question="What can be saved?"
      lead={
        nothing
          ? 'Not even the first layer stands, so nothing can be kept of it.'
          : 'Measure what stands with calipers, as it lies on the bed. The cut goes on the layer boundary below, and the rest is printed cut face down.'
      }
      options={[
        { name: 'There', preview: previews[0] },
        { name: '2 lower', preview: previews[1] },
        { name: '10 lower', preview: previews[2] },
      ]}
      rows={[
        { label: 'Cut at', cells: cell((r) => length(r.cutAtMm)), method: 'whole layers from the bed' },
        { label: 'Layers kept', cells: cell((r) => whole(r.layersKept)) },
        { label: 'Still to print', cells: cell((r) => length(r.remainingHeightMm)) },
        { label: 'Volume', cells: cell((r) => volumeText(r.remainingVolumeMm3, resin)) },
        {
          label: 'Mass, solid',
          cells: cell((r) => massText((r.remainingVolumeMm3 / 1000) * density)),
          method: `at ${density} g/cm³`,
        },
        { label: 'Glue face', cells: cell((r) => `${fixed(r.contactAreaMm2 / 100, 1)} cm²`) },
        {
          label: 'In areas',
          cells: cell((r) => whole(r.islandsAtCut)),
          method: 'separate areas of the cut, each glued by itself',
        },
      ]}
      chosen={chosen}
      onChoose={setChosen}
      advised={nothing ? null : broadest}
      advice={
        nothing
          ? 'Print it again, or set it aside.'
          : broadest === 0
            ? 'The highest sound layer loses the least. Go lower if the last layers look doubtful.'
            : 'Lower down the face is broader and glues better.'
      }
      fields={
        <>
          <LengthField
            label="Stands, by calipers"
            mm={printed}
            onChange={(v) => v !== null && setPrinted(v)}
            most={part.heightMm}
            zero
          />
          <LengthField label="Layer" hint={figures.layerMm.reason} mm={layer} onChange={(v) => v && setLayer(v)} />
          <LengthField label="First layer" mm={first} onChange={(v) => v && setFirst(v)} />
        </>
      }
      action={{
        label: `Recut ${part.tag}`,
        disabled: isLoading || nothing || reports[chosen] === null,
        run: () => void runStep({ bodyId: part.id, operation: catalogue.recut.name, params: options[chosen] }),
      }}
      below={others}
      foot="U takes back what was said of this part; what was measured is kept in the log."
      busy={busy}
    />
  );
}
