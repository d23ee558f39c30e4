import { useEffect, useState } from 'react';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { thinnerPct } from '@jasmorphe/core/operations/thickness/thinnerPct';
import { figures, nozzlesMm } from '@jasmorphe/core/trade/figures';
import { useRunStepMutation, wordsOf } from '../../app/api.ts';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useAppDispatch } from '../../app/store.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { showMap, tellStudied } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField } from '../../forms/Fields.tsx';
import { ParamChoice, ParamFactor, ParamFields } from '../../forms/ParamFields.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { finerNozzle, mayGoPct, wallLines, wallsRows } from './wallsRows.ts';
import { BackToSize, type StudyProps } from './BackToSize.tsx';

/** What of it is too thin at this size? Three ways out, side by side. */
export function WallsDecision({ body, printers, onClose }: StudyProps) {
  const dispatch = useAppDispatch();
  const say = useSpeaker();
  const { length } = say;
  const [add, adding] = useRunStepMutation();
  const { resin, printer } = usePrinter(printers);
  const own = nozzlesMm.find((mm) => mm === printer?.profile.nozzleMm) ?? figures.nozzleMm.value;
  const [by, setBy] = useState(resin ? 'resin' : String(own));
  const scale = useParamsForm(catalogue.thickness.params, {});
  const growth = useParamsForm(catalogue.thicken.params, {});
  const { factor } = scale.values;
  const { side } = growth.values;
  const [chosen, setChosen] = useState(0);
  const least = by === 'resin' ? figures.resinThinMm.value : wallLines * Number(by);
  const [measured, grown] = usePreviews(body.id, body.mesh.hash, [
    ask(catalogue.thickness, { min: least, ...(factor === 1 ? {} : { factor }) }),
    // walls grow at the size that the model has
    factor === 1 ? ask(catalogue.thicken, { min: least, side }) : null,
  ]);
  const walls = reportOf(measured, catalogue.thickness);
  const thick = reportOf(grown, catalogue.thicken);
  useEffect(() => {
    dispatch(showMap({ kind: 'thickness', factor, leastMm: least }));
    return () => void dispatch(showMap(null));
  }, [least, factor, dispatch]);
  useEffect(() => {
    dispatch(tellStudied(walls ? catalogue.thickness.findings!.of({ min: least, factor }, walls) : []));
    return () => void dispatch(tellStudied([]));
  }, [walls, least, factor, dispatch]);
  const finer = walls && by !== 'resin' ? finerNozzle(walls, Number(by)) : null;
  const lost = walls ? thinnerPct(walls.quantilesMm, least) : null;
  const none = walls !== null && lost !== null && lost < mayGoPct && walls.places.length === 0;
  const advice = () => {
    if (none) return `Nothing is too thin: the thinnest wall found measures ${length(walls.minMm)}.`;
    if (chosen === 1 && factor !== 1) return 'Size it first: walls grow at the size that the model has.';
    if (chosen === 1) return thick?.note ?? 'Being worked out on this mesh.';
    if (chosen === 2)
      return 'Print walls as single lines over a solid core: the outer skin survives down to one line of the nozzle, and the inside fills up. Good for small copies that are looked at, not handled.';
    if (finer === null)
      return 'Resin shows less than a nozzle does; walls this thin break in washing and when supports come off.';
    return `A ${say.fine(finer, 2)} nozzle prints ${length(wallLines * finer)} in ${wallLines} lines. It takes about ${fixed((Number(by) / finer) ** 2, 1)} times as long: half as wide a line is half as high a layer too.`;
  };
  return (
    <Decision
      step="Walls"
      question="What becomes of walls that are too thin?"
      lead={`Walls below ${length(least)} vanish or break: ${by === 'resin' ? figures.resinThinMm.reason : `${wallLines} lines of a ${say.fine(Number(by), 2)} nozzle`}. Hatched on the bench.`}
      options={[
        { name: finer === null ? 'As it is' : 'Finer nozzle', preview: measured },
        { name: 'Thicken', preview: grown },
        { name: 'Skin and core', preview: measured },
      ]}
      rows={wallsRows({ walls, thick, least, nozzleMm: by === 'resin' ? null : Number(by), finer, say })}
      chosen={chosen}
      onChoose={setChosen}
      advised={walls ? (none ? null : thick && thick.thinAfterPct < (lost ?? 0) / 2 ? 1 : 0) : null}
      advice={
        adding.error ? (
          <>
            <b>{wordsOf(adding.error).message}</b> {wordsOf(adding.error).hint}
          </>
        ) : (
          advice()
        )
      }
      fields={
        <>
          <ChoiceField
            label="Printed by"
            value={by}
            onChange={setBy}
            choices={[
              ...nozzlesMm.map((n) => ({ value: String(n), text: `${say.fine(n, 2)} nozzle` })),
              { value: 'resin', text: 'resin' },
            ]}
          />
          <ParamFields of={scale}>
            <ParamFactor name="factor" label="As if scaled by" />
          </ParamFields>
          <ParamFields of={growth}>
            <ParamChoice
              name="side"
              label="Walls grow"
              choices={[
                { value: 'both', text: 'on both sides' },
                { value: 'outward', text: 'outward' },
                { value: 'inward', text: 'inward' },
              ]}
            />
          </ParamFields>
        </>
      }
      action={{
        label: `Thicken to ${length(least)}`,
        disabled: adding.isLoading || chosen !== 1 || factor !== 1 || grown.state === 'failed' || none,
        run: () =>
          void add({ bodyId: body.id, operation: catalogue.thicken.name, params: { min: least, side } })
            .unwrap()
            .then(onClose, () => undefined),
      }}
      foot={<BackToSize onClose={onClose} />}
      busy={body.busyJobId !== null}
    />
  );
}
