import { lazy, Suspense, useState } from 'react';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { averageReadings } from '@jasmorphe/core/measuring/readings';
import type { BedFit } from '@jasmorphe/core/planning/bedFit';
import type { PlaceVerdict } from '@jasmorphe/core/planning/places';
import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/clearance';
import { axes, type Axis, type SizeReport } from '@jasmorphe/core/operations/size/size';
import { thinnerPct, type ThicknessReport } from '@jasmorphe/core/operations/thickness/thickness';
import { figures } from '@jasmorphe/core/trade/figures';
import { placed } from '@jasmorphe/core/worn/Placement';
import { useChangeReferenceMutation, usePlacesQuery } from '../../app/api.ts';
import { fixed, massText, volumeText } from '../../app/figures.ts';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, FactorField, LengthField, ParsedField } from '../../decision/Fields.tsx';
import { reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { useStep } from '../useStep.ts';
import { clearanceParams } from './clearanceParams.ts';
import { Readings, type TakenReading } from './Readings.tsx';

const ScaleChart = lazy(() => import('./ScaleChart.tsx'));

const ways = {
  dimension: 'one overall dimension',
  factor: 'a factor or percent',
  measured: 'lengths that I know',
  ratio: 'a ratio of an original',
  bed: 'the largest that fits the bed',
  body: 'a body that it must fit',
  stretch: 'a factor for each axis',
} as const;
type Way = keyof typeof ways;

interface Kept {
  factor?: number;
  axis?: Axis;
  to?: number;
  measured?: number;
  real?: number;
  readings?: { measured: number; real: number }[];
  ratio?: number;
  original?: number;
  bed?: [number, number, number];
  margin?: number;
  stretch?: [number, number, number];
  shrinkage?: number;
}

const wayOf = (p: Kept): Way =>
  p.stretch
    ? 'stretch'
    : p.bed
      ? 'bed'
      : p.ratio
        ? 'ratio'
        : p.readings || p.measured
          ? 'measured'
          : p.factor
            ? 'factor'
            : 'dimension';

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
  const { run, applied, sending } = useStep(body, 'size', 'size');
  const { data: places = [] } = usePlacesQuery();
  const [changeReference] = useChangeReferenceMutation();
  const done = applied?.step.report as SizeReport | undefined;
  const now = body.mesh.facts;
  // when the stage is done its figures count from the size before it
  const before = done ? done.before : now.size;
  const old = (applied?.step.params ?? {}) as Kept;
  const even = !done || done.oval === 1;
  const scaled = done ? done.factor.x : 1;
  const [way, setWay] = useState<Way>(wayOf(old));
  const longest: Axis = before.z >= before.x && before.z >= before.y ? 'z' : before.x >= before.y ? 'x' : 'y';
  const [axis, setAxis] = useState<Axis>(old.axis ?? longest);
  const [to, setTo] = useState(old.to ?? now.size[axis]);
  const [factor, setFactor] = useState(old.factor ?? scaled);
  const [readings, setReadings] = useState<TakenReading[]>(() =>
    (old.readings ?? (old.measured && old.real ? [{ measured: old.measured, real: old.real }] : [])).map((r) => ({
      ...r,
      says: 'measured earlier',
      lines: [],
    })),
  );
  const [typed, setTyped] = useState({ measured: 10, real: 10 });
  const [ratio, setRatio] = useState(old.ratio ?? 1 / 6);
  const [original, setOriginal] = useState(old.original ?? 1750);
  const [printerId, setPrinterId] = useState(printers[0]?.id ?? '');
  const printer = printers.find((p) => p.id === printerId) ?? printers[0];
  const bed: [number, number, number] = printer?.profile.bedMm ?? [220, 220, 250];
  const [margin, setMargin] = useState<number>(old.margin ?? figures.bedMarginMm.value);
  const [stretch, setStretch] = useState<[number, number, number]>(old.stretch ?? [1, 1, 1]);
  const [shrinkage, setShrinkage] = useState(old.shrinkage ?? 0);
  const grown = 1 / (1 - shrinkage / 100);

  const least = printer?.profile.kind === 'resin' ? figures.resinThinMm.value : figures.thinWallMm.value;
  const wearer = body.references[0];
  const [fitted, walls, stands, around] = usePreviews(body.id, body.mesh.hash, [
    { operation: 'fit', params: { bed, margin } },
    { operation: 'thickness', params: { min: least } },
    places.length > 0 ? { operation: 'places', params: { places: places.map(({ id: _, ...p }) => p) } } : null,
    way === 'body' && wearer ? { operation: 'clearance', params: clearanceParams(wearer, wearer) } : null,
  ]);
  const fit = reportOf<BedFit>(fitted);
  const worn = reportOf<ClearanceReport>(around);
  const thick = reportOf<ThicknessReport>(walls);
  const whereabouts = reportOf<{ places: PlaceVerdict[] }>(stands);
  // studies measure the model as it is; shrinkage is made up for within the bed
  const filling = fit ? (fit.largestFactor * scaled) / (done ? 1 : grown) : null;

  const wantedByWay = (): number | null => {
    switch (way) {
      case 'factor':
        return factor;
      case 'dimension':
        return to / before[axis];
      case 'measured':
        return readings.length > 0 ? averageReadings(readings).factor : typed.real / typed.measured;
      case 'ratio':
        return (ratio * original) / before[axis];
      case 'bed':
        return filling;
      case 'body':
        return worn?.suggestedFactor ? worn.suggestedFactor * scaled : null;
      case 'stretch':
        return stretch[0];
    }
  };
  const wanted = wantedByWay();
  const triple: [number, number, number] | null =
    way === 'stretch' ? stretch : wanted === null ? null : [wanted, wanted, wanted];
  const params: Kept = {
    ...(way === 'factor'
      ? { factor }
      : way === 'dimension'
        ? { axis, to }
        : way === 'measured'
          ? readings.length > 0
            ? { readings: readings.map(({ measured, real }) => ({ measured, real })) }
            : typed
          : way === 'ratio'
            ? { ratio, original, axis }
            : way === 'body'
              ? { factor: Number((wanted ?? 1).toPrecision(6)) }
              : way === 'bed'
                ? { bed, margin }
                : { stretch }),
    ...(shrinkage > 0 ? { shrinkage } : {}),
  };
  const oval = way === 'stretch' ? Math.max(...stretch) / Math.min(...stretch) : 1;

  const volume = now.volumeMm3 === null ? null : Math.abs(now.volumeMm3) / (done ? done.volumeFactor : 1);
  const density = printer?.profile.densityGCm3 ?? figures.filamentDensityGCm3.value;
  type Triple = [number, number, number];
  const columns: (Triple | null)[] = [[1, 1, 1], triple, filling === null ? null : [filling, filling, filling]];
  const row = (label: string, of: (f: Triple) => string, method?: string) => ({
    label,
    cells: columns.map((f) => (f ? of(f) : null)),
    method,
  });
  const cube = (f: Triple) => f[0] * f[1] * f[2];
  const mean = (f: Triple) => Math.cbrt(cube(f));
  const same = (f: Triple) => f[0] === f[1] && f[1] === f[2];
  const small = triple !== null && mean(triple) < figures.fineLayerBelow.value;
  const limits = [
    ...(filling === null ? [] : [{ factor: filling, name: printer?.profile.name ?? 'bed' }]),
    ...(whereabouts?.places ?? [])
      .filter((p) => Number.isFinite(p.largestFactor))
      .map((p) => ({ factor: p.largestFactor * scaled, name: p.name })),
  ];
  const moveReferences = (f: number) => {
    // bodies keep their place within the model
    const grows = f / scaled;
    for (const r of body.references) {
      const points = Object.values(r.landmarks);
      const mid =
        points.length > 0 ? [0, 1, 2].map((k) => points.reduce((s, p) => s + p[k], 0) / points.length) : [0, 0, 0];
      const at = placed({ moveMm: r.move, turnDeg: r.turn }, mid as unknown as Triple);
      void changeReference({
        id: r.id,
        bodyId: body.id,
        move: r.move.map((m, k) => m + (grows - 1) * at[k]) as Triple,
      });
    }
  };
  const unchanged =
    triple !== null && triple.every((f, k) => Math.abs((f * grown) / (done ? done.factor[axes[k]] : 1) - 1) < 1e-6);
  return (
    <Decision
      step={done ? 'Sized' : 'Decision'}
      question="How large shall it be?"
      lead={
        done
          ? 'Change a figure and everything after it replays.'
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
          'Volume, solid',
          (f) => (volume === null ? '—' : volumeText(volume * cube(f))),
          'grows with the cube of the factor',
        ),
        row(
          'Mass, solid',
          (f) => (volume === null ? '—' : massText(((volume * cube(f)) / 1000) * density)),
          `at ${density} g/cm³, common practice`,
        ),
        row('1 mm of wall is', (f) => length(mean(f)), 'walls drawn in the file scale too'),
        row(
          'Thinnest wall',
          (f) => (thick && even ? length((thick.p01Mm * mean(f)) / scaled) : '—'),
          'all but one in a hundred of the skin; ray along the inward normal',
        ),
        row(
          'Skin too thin',
          (f) => (thick && even ? `${fixed(thinnerPct(thick.quantilesMm, (least * scaled) / mean(f)), 1)} %` : '—'),
          `share of the skin under which the wall is below ${least} mm, common practice`,
        ),
        row(
          'Flats stand off',
          (f) => (thick && even ? (thick.flats ? length((thick.flats.riseMm * mean(f)) / scaled) : 'none') : '—'),
          `deepest flat of what is meant to be round; ${figures.facetMm.value} mm can be seen and felt`,
        ),
        row(
          'their facets across',
          (f) => (thick?.flats && even ? length((thick.flats.facetMm * mean(f)) / scaled) : '—'),
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
          setFactor(Number(f[0].toPrecision(9)));
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
            : `“Fills the bed” is the largest that ${printer?.profile.name ?? 'a usual bed'} holds in one piece, in any pose, with ${length(margin)} kept free.`}
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
          {(way === 'dimension' || way === 'ratio') && (
            <ChoiceField
              label={way === 'ratio' ? 'Original is long along' : 'Along'}
              value={axis}
              onChange={setAxis}
              choices={[
                { value: 'x', text: 'width (x)' },
                { value: 'y', text: 'depth (y)' },
                { value: 'z', text: 'height (z)' },
              ]}
            />
          )}
          {way === 'dimension' && <LengthField label="Shall be" mm={to} onChange={(v) => v && setTo(v)} />}
          {way === 'factor' && <FactorField label="Factor" value={factor} onChange={setFactor} />}
          {way === 'measured' &&
            (even ? (
              <>
                <Readings hash={body.mesh.hash} scale={scaled} readings={readings} onChange={setReadings} />
                {readings.length === 0 && (
                  <>
                    <LengthField
                      label="Or: on the model it is"
                      mm={typed.measured}
                      onChange={(v) => v && setTyped((t) => ({ ...t, measured: v }))}
                    />
                    <LengthField
                      label="It should be"
                      mm={typed.real}
                      onChange={(v) => v && setTyped((t) => ({ ...t, real: v }))}
                    />
                  </>
                )}
              </>
            ) : (
              <p className="lead">The model is stretched now. Undo that before measuring on it.</p>
            ))}
          {way === 'ratio' && (
            <>
              <FactorField label="Ratio, such as 1:6" value={ratio} onChange={setRatio} />
              <LengthField label="The original measures" mm={original} onChange={(v) => v && setOriginal(v)} />
            </>
          )}
          {way === 'body' && (
            <>
              <p className="lead">
                {!wearer
                  ? 'Nobody is held against it yet.'
                  : worn === null
                    ? `Being held against ${wearer.name}.`
                    : worn.suggestedFactor === null
                      ? `${wearer.name} lies where no scaling gives room. Place it first.`
                      : `Leaves ${length(wearer.wantMm)} around ${wearer.name} at the narrowest, beyond ${length(wearer.liningMm)} of lining.`}
              </p>
              <button type="button" className="plain accent" onClick={onBody}>
                {wearer ? 'Place it, or look closer' : 'Hold it against a body'}
              </button>
            </>
          )}
          {way === 'stretch' &&
            axes.map((a, k) => (
              <FactorField
                key={a}
                label={`Along ${a}`}
                value={stretch[k]}
                onChange={(f) => setStretch((s) => s.map((x, i) => (i === k ? f : x)) as Triple)}
              />
            ))}
          {printers.length > 0 && (
            <ChoiceField
              label="Printer"
              value={printer?.id ?? ''}
              onChange={setPrinterId}
              choices={printers.map((p) => ({ value: p.id, text: p.profile.name }))}
            />
          )}
          {way === 'bed' && (
            <LengthField
              label="Kept free at each side"
              mm={margin || null}
              onChange={(v) => setMargin(v ?? 0)}
              optional
            />
          )}
          <ParsedField
            label="Shrinkage, %"
            hint="by how much the material shrinks as it cools or cures; made up for on top"
            text={String(shrinkage)}
            parse={(t) => {
              const v = Number(t.replace('%', '').trim());
              return t.trim() !== '' && v >= 0 && v < 50 ? v : null;
            }}
            onChange={setShrinkage}
            example="from 0 to below 50"
          />
        </>
      }
      action={{
        label: triple ? `Size to ${length(Math.max(...axes.map((a, k) => before[a] * triple[k])))}` : 'Size',
        disabled: sending || triple === null || !triple.every((f) => Number.isFinite(f) && f > 0) || unchanged,
        run: () => {
          run(params as Record<string, unknown>);
          if (triple && same(triple)) moveReferences(triple[0] * grown);
        },
      }}
      below={
        triple &&
        same(triple) && (
          <Suspense fallback={null}>
            <ScaleChart factor={triple[0]} longestMm={before[longest]} limits={limits} />
          </Suspense>
        )
      }
      busy={body.busyJobId !== null}
    />
  );
}
