import { useState } from 'react';
import { paramFact } from '@jasmorphe/core/params/facts';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { axes } from '@jasmorphe/core/mesh/axes';
import { thinnerPct } from '@jasmorphe/core/operations/thickness/thinnerPct';
import { figures } from '@jasmorphe/core/trade/figures';
import { usePlacesQuery } from '../../app/api.ts';
import { fixed, massText, volumeText } from '@jasmorphe/core/words/numbers';
import { usePrinter } from '../../app/usePrinter.ts';
import { lazyPart } from '../../app/Boundary.tsx';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, NumberField } from '../../decision/Fields.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { laterWords } from '../laterSteps.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';
import { clearanceParams } from './clearanceParams.ts';
import { useCarriedReferences } from './useCarriedReferences.ts';
import { useSizeChoice } from './useSizeChoice.ts';
import { WayFields } from './WayFields.tsx';
import { ways, type SizeKept, type Way } from './ways.ts';

const ScaleChart = lazyPart(() => import('./ScaleChart.tsx'));

type Triple = [number, number, number];

const cube = (f: Triple): number => f[0] * f[1] * f[2];
const mean = (f: Triple): number => Math.cbrt(cube(f));
const same = (f: Triple): boolean => f[0] === f[1] && f[1] === f[2];
const factorText = (f: number): string => `×${fixed(f, f >= 10 ? 1 : 3)}`;

/** How large shall it be? Every figure follows as one types. */
export function SizeDecision({
  body,
  printers,
  onBody,
}: {
  body: BodyView;
  printers: PrinterView[];
  /** opens the look at the model on a body */
  onBody: () => void;
}) {
  const length = useLength();
  const { run, applied, after, sending, stake } = useStep(body, catalogue.size);
  const base = useStageBase(body, after);
  const { data: places = [] } = usePlacesQuery();
  const carry = useCarriedReferences(body);
  const done = applied?.step.report;
  // all figures are of the mesh that the step starts from, whatever came after it
  const facts = base.facts;
  const before = done ? done.before : body.mesh.facts.size;
  const old: SizeKept = applied?.step.params ?? {};
  const even = !done || done.oval === 1;
  const scaled = done ? done.factor.x : 1;
  const { way, setWay, longest, fields, set, ...choice } = useSizeChoice(
    old,
    before,
    done ? done.size : before,
    scaled,
  );
  const { printer, choose, resin, density } = usePrinter(printers);
  const bed: Triple = printer?.profile.bedMm ?? [220, 220, 250];
  const [shrinkage, setShrinkage] = useState(old.shrinkage ?? 0);
  const grown = 1 / (1 - shrinkage / 100);

  const least = resin ? figures.resinThinMm.value : figures.thinWallMm.value;
  const wearer = body.references[0];
  const [fitted, walls, stands, around] = usePreviews(body.id, base.hash, [
    ask(catalogue.fit, { bed, margin: fields.margin }, { after }),
    ask(catalogue.thickness, { min: least }, { after }),
    places.length > 0 ? ask(catalogue.places, { places: places.map(({ id: _, ...p }) => p) }, { after }) : null,
    // bodies stand in the model as it is now
    way === 'body' && wearer ? ask(catalogue.clearance, clearanceParams(wearer, wearer)) : null,
  ]);
  const fit = reportOf(fitted, catalogue.fit);
  const worn = reportOf(around, catalogue.clearance);
  const thick = reportOf(walls, catalogue.thickness);
  const whereabouts = reportOf(stands, catalogue.places);
  // shrinkage is made up for within the bed
  const filling = fit ? fit.largestFactor / grown : null;

  const triple = choice.factors(filling, worn?.suggestedFactor ? worn.suggestedFactor * scaled : null);
  const params: SizeKept = { ...choice.params(bed, triple), ...(shrinkage > 0 ? { shrinkage } : {}) };
  const oval = way === 'stretch' ? Math.max(...fields.stretch) / Math.min(...fields.stretch) : 1;

  const volume = facts?.volumeMm3 == null ? null : Math.abs(facts.volumeMm3);
  const hollowed = lastStepOf(body.line, after, catalogue.hollow) !== undefined;
  const hollow = applied
    ? lastStepOf(body.line.slice(applied.index + 1), body.cursor - applied.index - 1, catalogue.hollow)
    : undefined;
  const wall = hollow?.params.wall ?? 0;
  // a shell holds about its skin times its wall; exact only for the size that it was hollowed at
  const shell = (f: Triple) => {
    if (volume === null || !facts) return '—';
    if (done && f.every((x, k) => Math.abs((x * grown) / done.factor[axes[k]] - 1) < 1e-6))
      return volumeText(hollow!.report.volumeMm3, resin);
    return `≈ ${volumeText(Math.min(volume * cube(f), facts.areaMm2 * mean(f) ** 2 * wall), resin)}`;
  };
  const columns: (Triple | null)[] = [[1, 1, 1], triple, filling === null ? null : [filling, filling, filling]];
  const row = (label: string, of: (f: Triple) => string, method?: string) => ({
    label,
    cells: columns.map((f) => (f ? of(f) : null)),
    method,
  });
  const small = triple !== null && mean(triple) < figures.fineLayerBelow.value;
  const limits = [
    ...(filling === null ? [] : [{ factor: filling, name: printer?.profile.name ?? 'bed' }]),
    ...(whereabouts?.places ?? [])
      .filter((p) => Number.isFinite(p.largestFactor))
      .map((p) => ({ factor: p.largestFactor, name: p.name })),
  ];
  const unchanged =
    triple !== null && triple.every((f, k) => Math.abs((f * grown) / (done ? done.factor[axes[k]] : 1) - 1) < 1e-6);
  return (
    <Decision
      step={done ? 'Sized' : 'Decision'}
      question="How large shall it be?"
      lead={
        done
          ? `Change a figure and what follows replays. ${laterWords(body, applied!.index, length)}`
          : 'The figures follow as you type. Fields take 1.75 m, 15 1/2 in, ×4, 400 %, +5 %, and sums.'
      }
      options={[
        { name: done ? 'Before' : 'As it is' },
        { name: triple ? (same(triple) ? factorText(triple[0]) : 'Stretched') : '…' },
        { name: 'Fills the bed', preview: fitted },
      ]}
      rows={[
        row('Width', (f) => length(before.x * f[0], false)),
        row('Depth', (f) => length(before.y * f[1], false)),
        row('Height', (f) => length(before.z * f[2], false)),
        row(
          hollowed ? 'Material' : 'Volume, solid',
          (f) => (volume === null ? '—' : volumeText(volume * cube(f), resin)),
          `${hollowed ? 'of the hollow model; ' : ''}grows with the cube of the factor`,
        ),
        row(
          hollowed ? 'Mass' : 'Mass, solid',
          (f) => (volume === null ? '—' : massText(((volume * cube(f)) / 1000) * density)),
          `at ${density} g/cm³, common practice`,
        ),
        ...(hollow
          ? [
              row('Material, hollow', shell, 'once hollow has replayed; ≈ is the skin times the wall'),
              row('Wall, hollow', () => length(wall), 'hollow keeps its own wall when it replays'),
            ]
          : []),
        row('1 mm of wall is', (f) => length(mean(f)), 'walls drawn in the file scale too'),
        row(
          'Thinnest wall',
          (f) => (thick && same(f) ? length(thick.p01Mm * mean(f)) : '—'),
          'all but one in a hundred of the skin; ray along the inward normal',
        ),
        row(
          'Skin too thin',
          (f) => (thick && same(f) ? `${fixed(thinnerPct(thick.quantilesMm, least / mean(f)), 1)} %` : '—'),
          `share of the skin under which the wall is below ${least} mm, common practice`,
        ),
        row(
          'Flats stand off',
          (f) => (thick && same(f) ? (thick.flats ? length(thick.flats.riseMm * mean(f)) : 'none') : '—'),
          `deepest flat of what is meant to be round; ${figures.facetMm.value} mm can be seen and felt`,
        ),
        row(
          'their facets across',
          (f) => (thick?.flats && same(f) ? length(thick.flats.facetMm * mean(f)) : '—'),
          'width of the facet that stands off most; Refine divides it',
        ),
        row('Material', (f) => `×${fixed(cube(f), cube(f) >= 10 ? 0 : 2)}`, 'cube of the factor'),
      ]}
      chosen={1}
      onChoose={(i) => {
        const f = columns[i];
        if (!f || i === 1) return;
        if (i === 2) setWay('bed');
        else {
          setWay('factor');
          set({ factor: Number(f[0].toPrecision(9)) });
        }
      }}
      advised={null}
      advice={
        <>
          {oval > 1.001 && (
            <>
              <b>Rounds become oval</b>, {fixed(oval, 2)} : 1 at most: holes for pins and eyes too.{' '}
            </>
          )}
          {small && (
            <>
              Below half size take finer layers, {figures.fineLayerMm.value} to {figures.fineLayerMostMm.value} mm
              rather than {figures.layerMm.value}.{' '}
            </>
          )}
          {shrinkage > 0 && triple && (
            <>
              In the file it measures {length(before[longest] * triple[axes.indexOf(longest)] * grown)}, so that it is{' '}
              {length(before[longest] * triple[axes.indexOf(longest)])} once it has shrunk.{' '}
            </>
          )}
          {volume === null
            ? 'Volume and mass are known once the skin is closed. Size may come first all the same.'
            : `“Fills the bed” is the largest that ${printer?.profile.name ?? 'a usual bed'} holds in one piece, in any pose, with ${length(fields.margin)} kept free.`}
        </>
      }
      fields={
        <>
          <ChoiceField
            label="By"
            value={way}
            onChange={setWay}
            choices={(Object.keys(ways) as Way[]).map((value) => ({ value, text: ways[value] }))}
          />
          <WayFields
            way={way}
            fields={fields}
            set={set}
            hash={body.mesh.hash}
            scaled={scaled}
            even={even}
            wearer={wearer}
            worn={worn}
            onBody={onBody}
          />
          {printers.length > 0 && (
            <ChoiceField
              label="Printer"
              value={printer?.id ?? ''}
              onChange={choose}
              choices={printers.map((p) => ({ value: p.id, text: p.profile.name }))}
            />
          )}
          <NumberField
            label="Shrinkage, %"
            param={paramFact(catalogue.size.params, 'shrinkage')}
            value={shrinkage}
            onChange={setShrinkage}
          />
        </>
      }
      action={{
        label: triple ? `Size to ${length(Math.max(...axes.map((a, k) => before[a] * triple[k])))}` : 'Size',
        disabled: sending || triple === null || !triple.every((f) => Number.isFinite(f) && f > 0) || unchanged,
        run: () => {
          run(params);
          if (triple && same(triple)) carry((triple[0] * grown) / scaled);
        },
      }}
      below={triple && same(triple) && <ScaleChart factor={triple[0]} longestMm={before[longest]} limits={limits} />}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
