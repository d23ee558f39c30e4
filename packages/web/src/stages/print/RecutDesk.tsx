import Button from '@mui/material/Button';
import { useState } from 'react';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { figures } from '@jasmorphe/core/trade/figures';
import { massText } from '@jasmorphe/core/words/numbers';
import { useBodyQuery, useRunStepMutation } from '../../app/api.ts';
import { shownKey } from '../../app/keys.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { Decision } from '../../decision/Decision.tsx';
import { rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ParamFields, ParamLength } from '../../forms/ParamFields.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { useSay } from './useSay.ts';
import { Actions } from '../../ui/layout.ts';

/** How many layers below the height that was measured the cut may go. */
const layersLower = [0, 2, 10] as const;

/** A face must be so much broader to be worth the layers that are lost. */
const muchBroader = 1.25;

/** A part that stopped at a height: what of it can be saved. */
export function RecutDesk({ part, body, printers }: { part: PartView; body: BodyView; printers: PrinterView[] }) {
  const speak = useSpeaker();
  const { printer, resin, density } = usePrinter(printers);
  const { data: own } = useBodyQuery(part.id);
  const [runStep, { isLoading }] = useRunStepMutation();
  const { say, saying } = useSay(body, part);
  const form = useParamsForm(catalogue.recut.params, {
    printed: part.failedAtMm ?? 0,
    layer: printer?.profile.layerMm ?? figures.layerMm.value,
    firstLayer: printer?.profile.firstLayerMm ?? figures.firstLayerMm.value,
  });
  const { printed, layer, firstLayer } = form.values;
  const [chosen, setChosen] = useState(0);
  const nothing = printed < (firstLayer ?? layer);
  const options = layersLower.map((layers) => ({
    printed,
    layer,
    firstLayer,
    backOff: Number((layers * layer).toFixed(4)),
    up: part.up,
  }));
  const previews = usePreviews(
    part.id,
    part.mesh.hash,
    options.map((params) => (nothing ? null : ask(catalogue.recut, params))),
  );
  const reports = previews.map((p) => reportOf(p, catalogue.recut));
  const broadest = reports.reduce(
    (best, r, i) => (r && r.contactAreaMm2 > muchBroader * (reports[best]?.contactAreaMm2 ?? 0) ? i : best),
    0,
  );
  const busy = own?.busyJobId != null || body.busyJobId !== null;
  const rows = rowsOf(catalogue.recut, reports, { ...speak, liquid: resin });
  rows.splice(4, 0, {
    label: 'Mass, solid',
    cells: reports.map((r) => r && massText((r.remainingVolumeMm3 / 1000) * density)),
    method: `at ${density} g/cm³`,
  });
  const others = [
    ['again', 'Print it again'],
    ['passed', 'Take it as it is'],
    ['aside', 'Set it aside'],
  ] as const;
  return (
    <Decision
      step={`${part.tag} stopped`}
      question="What can be saved?"
      lead={
        nothing
          ? 'Not even the first layer stands, so nothing can be kept of it.'
          : 'Measure what stands with calipers, as it lies on the bed. The cut goes on the layer boundary below, and the rest is printed cut face down.'
      }
      options={layersLower.map((n, i) => ({ name: n === 0 ? 'There' : `${n} lower`, preview: previews[i] }))}
      rows={rows}
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
        <ParamFields of={form}>
          <ParamLength name="printed" label="Stands, by calipers" most={part.heightMm} />
          <ParamLength name="layer" label="Layer" hint={figures.layerMm.reason} />
          <ParamLength name="firstLayer" label="First layer" hint={figures.firstLayerMm.reason} />
        </ParamFields>
      }
      action={{
        label: `Recut ${part.tag}`,
        disabled: isLoading || nothing || reports[chosen] === null,
        run: () => void runStep({ bodyId: part.id, operation: catalogue.recut.name, params: options[chosen] }),
      }}
      below={
        <Actions role="group" aria-label="Other answers">
          {others.map(([outcome, text]) => (
            <Button key={outcome} variant="outlined" disabled={saying || busy} onClick={() => say(outcome)}>
              {text}
            </Button>
          ))}
        </Actions>
      }
      foot={`${shownKey('words', 'takeBack')} takes back what was said of this part; what was measured is kept in the log.`}
      busy={busy}
    />
  );
}
