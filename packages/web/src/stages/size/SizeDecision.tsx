import type { ReactNode } from 'react';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import type { PrinterView } from '@jasmorphe/contracts/views';
import { cavitiesOf } from '@jasmorphe/core/inspect/Inspection';
import { axes } from '@jasmorphe/core/mesh/axes';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { figures } from '@jasmorphe/core/trade/figures';
import { fixed } from '@jasmorphe/core/words/numbers';
import { usePlacesQuery } from '../../app/api.ts';
import { lazyPart } from '../../app/Boundary.tsx';
import { useLength, useSpeaker } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ChoiceField } from '../../forms/Fields.tsx';
import { ParamFields, ParamNumber } from '../../forms/ParamFields.tsx';
import { PrinterField } from '../../forms/PrinterField.tsx';
import { laterWords } from '../laterSteps.ts';
import type { StageProps } from '../Stage.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';
import { clearanceParams } from './clearanceParams.ts';
import { SizeWholeKit } from './SizeWholeKit.tsx';
import { cube, mean, same, sizeRows, type Triple } from './sizeRows.ts';
import { useCarriedReferences } from './useCarriedReferences.ts';
import { useSizeChoice } from './useSizeChoice.ts';
import { WayFields } from './WayFields.tsx';
import { ways, type SizeKept, type Way } from './ways.ts';

const ScaleChart = lazyPart(() => import('./ScaleChart.tsx'));

const usualBed: Triple = [220, 220, 250];
const factorText = (f: number): string => `×${fixed(f, f >= 10 ? 1 : 3)}`;

/** What is worth a word about a factor, whichever way it came. */
function SizeAdvice({
  triple,
  oval,
  shrinkage,
  fileMm,
  longestMm,
  known,
  printer,
  margin,
}: {
  triple: Triple | null;
  oval: number;
  shrinkage: number;
  /** longest side in the file, and once it has shrunk */
  fileMm: number;
  longestMm: number;
  /** volume and mass are known */
  known: boolean;
  printer: PrinterView | undefined;
  margin: number;
}) {
  const length = useLength();
  const say = useSpeaker();
  const said: ReactNode[] = [];
  if (oval > 1.001)
    said.push(
      <>
        <b>Rounds become oval</b>, {fixed(oval, 2)} : 1 at most: holes for pins and eyes too.
      </>,
    );
  if (triple && mean(triple) < figures.fineLayerBelow.value)
    said.push(
      `Below half size take finer layers, ${say.fine(figures.fineLayerMm.value, 2)} to ${say.fine(figures.fineLayerMostMm.value, 2)} rather than ${say.fine(figures.layerMm.value, 2)}.`,
    );
  if (shrinkage > 0 && triple)
    said.push(`In the file it measures ${length(fileMm)}, so that it is ${length(longestMm)} once it has shrunk.`);
  said.push(
    known
      ? `“Fills the bed” is the largest that ${printer?.profile.name ?? 'a usual bed'} holds in one piece, in any pose${Number.isFinite(margin) ? `, with ${length(margin)} kept free` : ''}.`
      : 'Volume and mass are known once the skin is closed. Size may come first all the same.',
  );
  return said.map((what, i) => <span key={i}>{what} </span>);
}

/** How large shall it be? Every figure follows as one types. */
export function SizeDecision({ body, printers, onOpen }: StageProps) {
  const length = useLength();
  const say = useSpeaker();
  const { run, applied, after, sending, stake } = useStep(body, catalogue.size);
  const base = useStageBase(body, after);
  const { data: places = [] } = usePlacesQuery();
  const carry = useCarriedReferences(body);
  const done = applied?.step.report;
  // all figures are of the mesh that the step starts from, whatever came after it
  const before = done ? done.before : body.mesh.facts.size;
  const old: SizeKept = applied?.step.params ?? {};
  const scaled = done ? done.factor.x : 1;
  const choice = useSizeChoice(old, before, done ? done.size : before, scaled);
  const { way, setWay, longest, fields, form } = choice;
  const { printer, choose, resin, density } = usePrinter(printers);
  const bed: Triple = printer?.profile.bedMm ?? usualBed;
  const { shrinkage, margin } = fields;
  const grown = 1 / (1 - shrinkage / 100);
  const least = resin ? figures.resinThinMm.value : figures.thinWallMm.value;
  const wearer = body.references[0];
  const [fitted, walls, stands, around] = usePreviews(body.id, base.hash, [
    ask(catalogue.fit, { bed, margin }, { after }),
    ask(catalogue.thickness, { min: least }, { after }),
    places.length > 0 ? ask(catalogue.whereabouts, { places: places.map(({ id: _, ...p }) => p) }, { after }) : null,
    // bodies stand in the model as it is now
    way === 'body' && wearer ? ask(catalogue.clearance, clearanceParams(wearer, wearer)) : null,
  ]);
  const fit = reportOf(fitted, catalogue.fit);
  const worn = reportOf(around, catalogue.clearance);
  const whereabouts = reportOf(stands, catalogue.whereabouts);
  // shrinkage is made up for within the bed
  const filling = fit ? fit.largestFactor / grown : null;
  const triple = choice.factors(filling, worn?.suggestedFactor ? worn.suggestedFactor * scaled : null);
  const params: SizeKept = { ...choice.params(bed, triple), ...(shrinkage > 0 ? { shrinkage } : {}) };
  const hollow = applied
    ? lastStepOf(body.line.slice(applied.index + 1), body.cursor - applied.index - 1, catalogue.hollow)
    : undefined;
  const columns: (Triple | null)[] = [[1, 1, 1], triple, filling === null ? null : [filling, filling, filling]];
  const rows = sizeRows(
    {
      before,
      facts: base.facts,
      thick: reportOf(walls, catalogue.thickness),
      done,
      hollowed:
        lastStepOf(body.line, after, catalogue.hollow) !== undefined ||
        (base.facts !== null && cavitiesOf(base.facts).count > 0),
      hollow: hollow ? { wall: hollow.params.wall, report: hollow.report } : null,
      resin,
      density,
      least,
      grown,
      length,
      say,
    },
    columns,
  );
  const limits = [
    ...(filling === null ? [] : [{ factor: filling, name: printer?.profile.name ?? 'bed' }]),
    ...(whereabouts?.places ?? [])
      .filter((p) => Number.isFinite(p.largestFactor))
      .map((p) => ({ factor: p.largestFactor, name: p.name })),
  ];
  const unchanged =
    triple !== null && triple.every((f, k) => Math.abs((f * grown) / (done ? done.factor[axes[k]] : 1) - 1) < 1e-6);
  const longestMm = triple ? before[longest] * triple[axes.indexOf(longest)] : 0;
  return (
    <Decision
      step={done ? 'Sized' : 'Decision'}
      question="How large shall it be?"
      lead={
        done
          ? `Change a figure and what follows replays. ${laterWords(body, applied.index, say)}`
          : 'The figures follow as you type. Fields take 1.75 m, 15 1/2 in, ×4, 400 %, +5 %, and sums.'
      }
      options={[
        { name: done ? 'Before' : 'As it is' },
        { name: triple ? (same(triple) ? factorText(triple[0]) : 'Stretched') : '…' },
        { name: 'Fills the bed', preview: fitted },
      ]}
      rows={rows}
      chosen={1}
      onChoose={(i) => {
        const f = columns[i];
        if (!f || i === 1) return;
        if (i === 2) return setWay('bed');
        setWay('factor');
        form.set({ factor: Number(f[0].toPrecision(9)) });
      }}
      advised={null}
      advice={
        <SizeAdvice
          triple={triple}
          oval={way === 'stretch' ? Math.max(...fields.stretch) / Math.min(...fields.stretch) : 1}
          shrinkage={shrinkage}
          fileMm={longestMm * grown}
          longestMm={longestMm}
          known={base.facts?.volumeMm3 != null}
          printer={printer}
          margin={margin}
        />
      }
      fields={
        <>
          <ChoiceField
            label="By"
            value={way}
            onChange={setWay}
            choices={(Object.keys(ways) as Way[]).map((value) => ({ value, text: ways[value] }))}
          />
          <ParamFields of={form}>
            <WayFields
              choice={choice}
              hash={body.mesh.hash}
              scaled={scaled}
              even={!done || done.oval === 1}
              wearer={wearer}
              worn={worn}
              onBody={() => onOpen('body')}
            />
            <PrinterField printers={printers} value={printer?.id} onChange={choose} />
            <ParamNumber name="shrinkage" label="Shrinkage, %" />
          </ParamFields>
        </>
      }
      action={{
        label: triple ? `Size to ${length(Math.max(...axes.map((a, k) => before[a] * triple[k])))}` : 'Size',
        disabled: sending || triple === null || !(cube(triple) > 0 && Number.isFinite(cube(triple))) || unchanged,
        run: () => {
          run(params);
          if (triple && same(triple)) carry((triple[0] * grown) / scaled);
        },
      }}
      below={
        triple &&
        same(triple) && (
          <>
            {body.kind === 'model' && <SizeWholeKit body={body} factor={triple[0]} shrinkage={shrinkage} />}
            <ScaleChart factor={triple[0]} longestMm={before[longest]} limits={limits} />
          </>
        )
      }
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
