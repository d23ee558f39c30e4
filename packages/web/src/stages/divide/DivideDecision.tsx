import Button from '@mui/material/Button';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { sliversOf, type DivideParams } from '@jasmorphe/core/operations/divide/describe';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { planeOf, type PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { planNames, planStyles, type PlanStyle } from '@jasmorphe/core/planning/cuts/styles';
import { joinKinds, placedKinds, type JoinKind } from '@jasmorphe/core/trade/joinKinds';
import type { JoinPlace } from '@jasmorphe/core/params/checks';
import { figures } from '@jasmorphe/core/trade/figures';
import { countOf, whole } from '@jasmorphe/core/words/numbers';
import { lazyPart } from '../../app/Boundary.tsx';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { pickPart, tellStudied } from '../../bench/benchSlice.ts';
import { Decision, type ConsequenceRow } from '../../decision/Decision.tsx';
import { failed, rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews, type Preview } from '../../decision/usePreviews.ts';
import { ParamChoice, ParamFields, ParamLength, ParamYesNo } from '../../forms/ParamFields.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { Toggles } from '../../ui/Toggles.tsx';
import type { StageProps } from '../Stage.ts';
import { useStageBase } from '../stageBase.ts';
import { forgetDrafts, useDraft } from '../useDraft.ts';
import { useStep } from '../useStep.ts';
import { cutOf, cutsOf, fitHint, ownMargins, namesOf, ownOf, printersOf } from './divideParams.ts';
import { KeptClean } from './KeptClean.tsx';
import { Creases } from './Creases.tsx';
import { OwnCuts } from './OwnCuts.tsx';
import { PlanPicture } from './PlanPicture.tsx';
import { WishSliders } from './WishSliders.tsx';
import { PartCard } from './PartCard.tsx';
import { useSeams } from './useSeams.ts';
import { usePainted } from '../../decision/usePainted.ts';
import { useHeldPlane } from './useHeldPlane.ts';
import { facesOf, usePegs, withFace, withoutFaces } from './usePegs.ts';
import { advisedOf, areSameBeds, bedParams, bedsOf, bestFor, cellsIn, cutSo, roomsIn, printerRows } from './plans.ts';

const AreaProfile = lazyPart(() => import('./AreaProfile.tsx'));

const joinWords: Record<JoinKind, string> = {
  none: 'glue only',
  pin: 'pins',
  dowel: 'dowels',
  key: 'square keys',
  square: 'square dowels',
  tongue: 'tongues',
  dovetail: 'dovetails that slide',
  magnet: 'magnets',
  bolt: 'bolts and nuts',
  groove: 'glue grooves',
};

/** An answer that stands in a column: what is there already, one's own cuts, or a plan. */
type Column = 'cut' | 'own' | 'weighed' | PlanStyle;

const columnNames: Record<Column, string> = { cut: 'As cut', own: 'Yours', weighed: 'Weighed', ...planNames };

/** On which beds, and where shall it be cut? */
export function DivideDecision({ body, printers }: StageProps) {
  const length = useLength();
  const dispatch = useAppDispatch();
  const { run, applied, kept, after, sending, stake } = useStep(body, catalogue.divide);
  const base = useStageBase(body, after);
  const { printer, choose, density } = usePrinter(printers);
  const done = applied?.step.report;
  const old: Partial<DivideParams> = applied?.step.params ?? {};
  const form = useParamsForm(catalogue.divide.params, { ...catalogue.divide.begins, ...old });
  const { margin, join, joinMm, clearance, labels, labelMm, bandMm } = form.values;
  const facts = base.facts ?? body.mesh.facts;
  const ready = isSound(facts) || facts.watertight;

  const drafts = `divide ${body.id} ${base.hash}`;
  const [toggled, setToggled] = useDraft<string[]>(`${drafts} printers`);
  const used = toggled ?? printersOf(old, printers);
  const chosenPrinters = printers.filter((p) => used.includes(p.id));
  const cutFor = chosenPrinters.length > 0 ? chosenPrinters : printer ? [printer] : [];
  // beds of another time, whose printers are gone, are kept as long as nobody chooses
  const beds = toggled === null && old.bed && chosenPrinters.length === 0 ? bedsOf(old) : bedParams(cutFor);

  const margins = ownMargins(beds.beds, length);

  const [asked, setAsked] = useState(false);
  const stepId = applied?.step.id;
  const stepWas = useRef(stepId);
  useEffect(() => {
    // done, undone or done elsewhere: what was in hand stays on this page, and is not brought back
    if (stepWas.current !== stepId) forgetDrafts(drafts);
    stepWas.current = stepId;
  }, [stepId, drafts]);
  const [edited, setEdited] = useDraft<PlaneCut[]>(`${drafts} cuts`);
  const [pickedCut, setPickedCut] = useState<number | null>(null);
  const [placed, setPlaced] = useDraft<JoinPlace[]>(`${drafts} joins`);
  const places = placed ?? old.joinPlaces ?? [];
  const own = edited ?? ownOf(old);
  const [keptClean, setKeptClean] = useDraft<CleanBox[]>(`${drafts} clean`);
  const clean = keptClean ?? old.keepClean ?? [];
  const [keptPaint, setKeptPaint] = useDraft<CleanSpot[]>(`${drafts} paint`);
  const painted = keptPaint ?? old.painted ?? [];
  const paint = (spots: CleanSpot[]) => {
    setKeptPaint(spots);
    setAsked(false);
  };
  usePainted(painted, paint);
  const shape = {
    ...beds,
    margin,
    ...(clean.length > 0 && { keepClean: clean }),
    ...(painted.length > 0 && { painted }),
  };
  const [wishes, setWishes] = useState<Wishes | null>(old.weights ?? null);
  const styleAsked = planStyles.map((plan) =>
    ready ? ask(catalogue.cuts, { ...shape, plan }, { after, ifKnown: !asked }) : null,
  );
  // something to look at within seconds, while the four are sought
  const quickAsked = ready
    ? ask(catalogue.cuts, { ...shape, plan: 'fewest', quick: true }, { after, ifKnown: !asked })
    : null;
  const ownAsked = ready && own && own.length > 0 ? ask(catalogue.cuts, { ...shape, cuts: own }, { after }) : null;
  const weighedAsked =
    ready && wishes
      ? ask(catalogue.cuts, { ...shape, plan: 'fewest', weights: wishes }, { after, ifKnown: !asked })
      : null;
  const [ownSeen, quickSeen, weighedSeen, ...styleSeen] = usePreviews(body.id, base.hash, [
    ownAsked,
    quickAsked,
    weighedAsked,
    ...styleAsked,
  ]);
  const ownReport = reportOf(ownSeen, catalogue.cuts);
  const quickReport = reportOf(quickSeen, catalogue.cuts);
  const found = [...styleSeen.map((p) => reportOf(p, catalogue.cuts)), quickReport];
  const best = Object.fromEntries(planStyles.map((s) => [s, bestFor(s, found)])) as Record<
    PlanStyle,
    ReturnType<typeof bestFor>
  >;
  const weighedReport = reportOf(weighedSeen, catalogue.cuts);
  const planning = [quickSeen, weighedSeen, ...styleSeen].some((p) => p.state === 'working');
  const known = asked || found.some((r) => r !== null);

  const sameBeds = areSameBeds(old, beds);
  const sameElse =
    sameBeds &&
    margin === (old.margin ?? margin) &&
    join === (old.join ?? join) &&
    clearance === (old.clearance ?? clearance) &&
    labels === (old.labels ?? labels) &&
    labelMm === (old.labelMm ?? labelMm) &&
    bandMm === (old.bandMm ?? bandMm) &&
    JSON.stringify(clean) === JSON.stringify(old.keepClean ?? []) &&
    JSON.stringify(painted) === JSON.stringify(old.painted ?? []) &&
    joinMm === (old.joinMm ?? joinMm) &&
    JSON.stringify(places) === JSON.stringify(old.joinPlaces ?? []);
  /** what stands in the column is what was done */
  const isDone = (c: Column): boolean => {
    if (!done || !sameElse) return false;
    if (c === 'cut') return true;
    if (c === 'own') return JSON.stringify(ownOf(old)) === JSON.stringify(own);
    if (c === 'weighed')
      return weighedReport !== null && JSON.stringify(ownOf(old)) === JSON.stringify(weighedReport.cuts);
    if (quickReport && best[c] === quickReport) return false;
    return ownOf(old) === null && best[c] !== null && old.plan === best[c].plan;
  };
  const taken = planStyles.find(isDone);
  const columns: Column[] = [
    ...(done && !taken ? (['cut'] as const) : []),
    ...(edited && edited.length > 0 ? (['own'] as const) : []),
    ...(known || !done ? planStyles : []),
    ...(wishes && (known || !done) ? (['weighed'] as const) : []),
  ];
  const [picked, setPicked] = useState<Column | null>(null);
  const advised = advisedOf(best);
  const chosen = picked && columns.includes(picked) ? picked : (taken ?? (done ? 'cut' : (advised?.style ?? 'fewest')));
  const reports = columns.map((c) =>
    c === 'cut' ? null : c === 'own' ? ownReport : c === 'weighed' ? weighedReport : best[c],
  );
  const previewOf = (c: Column): Preview | undefined =>
    c === 'cut'
      ? undefined
      : c === 'own'
        ? ownSeen
        : c === 'weighed'
          ? weighedSeen
          : // its own search, which may still be stopped, whatever stands in the column meanwhile
            styleSeen[planStyles.indexOf(c)];
  const chosenReport = reports[columns.indexOf(chosen)] ?? null;

  const paramsOf = (c: Column): Partial<DivideParams> => {
    // joins stay where they were put only while the cuts stay
    const hand = c === 'cut' || c === 'own' ? places : [];
    const rest = {
      ...kept,
      ...beds,
      margin,
      join,
      joinMm,
      clearance,
      labels,
      labelMm,
      bandMm,
      joinPlaces: hand.length > 0 ? hand : undefined,
      keepClean: clean.length > 0 ? clean : undefined,
      painted: painted.length > 0 ? painted : undefined,
      weights: c === 'weighed' ? (wishes ?? undefined) : undefined,
      names: done ? namesOf(done, body.parts, old.names ?? []) : undefined,
    };
    if (c === 'cut') {
      // joins that stand in a place want the cuts where they are: what was planned is cut as it was planned
      const planned = hand.length > 0 && sameBeds && done && ownOf(old) === null ? { cuts: done.cuts.map(cutOf) } : {};
      return { ...rest, ...(old.plan && { plan: old.plan }), ...cutsOf(old), ...planned };
    }
    if (c === 'own') return { ...rest, plan: 'auto', cuts: own! };
    // cut as it was planned
    if (c === 'weighed') return { ...rest, plan: 'fewest', cuts: weighedReport?.cuts };
    // the first one is not found again by its name
    if (quickReport && best[c] === quickReport) return { ...rest, plan: 'fewest', cuts: quickReport.cuts };
    const plan = best[c]?.plan;
    return { ...rest, plan: plan && plan !== 'own' ? plan : c };
  };
  const shownCuts = chosen === 'own' ? own : chosen === 'cut' ? null : (chosenReport?.cuts ?? null);
  const [lookedAt, setLookedAt] = useState<PlaneCut | null>(null);
  useSeams(base.hash, lookedAt ? [...(shownCuts ?? []), lookedAt] : shownCuts, [
    ...clean,
    ...(shownCuts ?? []).flatMap((c) => c.within ?? []),
  ]);
  const partId = useAppSelector((s) => s.bench.partId);
  const pickedView = body.parts.find((p) => p.id === partId);
  const pickedPart = done?.parts.find((p) => p.tag === pickedView?.tag);
  const faces = useMemo(
    () => (done && pickedPart ? facesOf(done, pickedPart, places) : []),
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [done, pickedPart, placed, old.joinPlaces],
  );
  usePegs(chosen === 'own' ? undefined : done, pickedView, faces, (face, index, at) =>
    setPlaced(
      withFace(
        done!,
        pickedPart!,
        face,
        face.places.map((p, i) => (i === index ? { ...p, at } : p)),
        places,
      ),
    ),
  );
  const [handles, setHandles] = useState<'move' | 'turn'>('move');
  const misfits = chosen === 'own' ? ownReport : null;
  useEffect(() => {
    dispatch(tellStudied(misfits ? catalogue.cuts.findings!.of(new catalogue.cuts.params(), misfits) : []));
    return () => void dispatch(tellStudied([]));
  }, [misfits, dispatch]);

  const edit = (cuts: PlaneCut[]) => {
    setEdited(cuts);
    setPicked(cuts.length > 0 ? 'own' : null);
  };
  const middle: Vec3 = [
    (facts.min.x + facts.max.x) / 2,
    (facts.min.y + facts.max.y) / 2,
    (facts.min.z + facts.max.z) / 2,
  ];
  const size: Vec3 = [facts.size.x, facts.size.y, facts.size.z];
  const rooms = roomsIn(beds, margin);
  useHeldPlane(
    base.hash,
    chosen === 'own' && own && pickedCut !== null && !own[pickedCut]?.loop ? (own[pickedCut] ?? null) : null,
    handles,
    { middle, size, rooms },
    (cut) => edit(own!.map((c, i) => (i === pickedCut ? cut : c))),
  );
  const fitsWhole = cellsIn(size, rooms) === 1;
  const slivers = done ? sliversOf(done.parts).length : 0;
  const looked = found.reduce((n, r) => n + (r && r !== quickReport ? r.looked : 0), 0) || (quickReport?.looked ?? 0);
  const pictures: ConsequenceRow = {
    label: 'Drawn apart',
    cells: reports.map((report, i) =>
      report ? <PlanPicture key={columns[i]} picture={report.picture} of={columnNames[columns[i]]} /> : null,
    ),
  };
  const rows = [
    ...rowsOf(
      catalogue.cuts,
      reports,
      { length },
      { leave: ['On each printer', ...(columns.length > 1 ? ['Seam in all'] : [])] },
    ),
    ...printerRows(reports),
  ]
    .map((row) => withCut(row, columns, done, length))
    .filter((row) => columns.some((c) => c !== 'cut') || row.cells.some((cell) => cell !== null));
  const names = cutFor.map((p) => p.profile.name).join(', ') || 'the usual bed';

  let advice: ReactNode;
  if (done && (chosen === 'cut' || isDone(chosen)))
    advice = (
      <>
        <b>{countOf(done.parts.length, 'part')}.</b> {done.reason}{' '}
        {slivers > 0 &&
          `${slivers} ${slivers === 1 ? 'is a sliver' : 'are slivers'} under ${figures.sliverMm.value} mm.`}{' '}
        {ready && !known && (
          <Button variant="text" onClick={() => setAsked(true)}>
            Plan it anew
          </Button>
        )}
      </>
    );
  else if (fitsWhole) advice = <b>It fits whole on {names}.</b>;
  else if (advised)
    advice = (
      <>
        <b>{planNames[advised.style]} is advised.</b> {advised.why}
      </>
    );
  else if (!known)
    advice = (
      <>
        <b>Four plans are made side by side</b>, from the flats, necks and jumps of the model itself: each best at
        something else.
      </>
    );

  const label =
    chosen === 'own'
      ? `Cut so, into ${ownReport ? whole(ownReport.parts) : '…'}`
      : chosen !== 'cut' && !chosenReport
        ? planning
          ? 'Planning'
          : 'Plan the cuts'
        : chosenReport?.parts === 1
          ? `Print it whole`
          : chosen === 'cut'
            ? 'Cut it so instead'
            : `Cut into ${chosenReport!.parts}`;
  const plans = chosen !== 'cut' && chosen !== 'own' && !chosenReport;
  return (
    <Decision
      step={done ? 'Divided' : 'Decision'}
      question="Where shall it be cut?"
      lead={
        !ready
          ? 'The skin must be closed before it can be cut.'
          : planning
            ? `Best of ${whole(looked)} ways to cut so far, for ${names}. Still looking.`
            : looked > 0
              ? `Best of ${whole(looked)} ways to cut, for ${names}.`
              : `For ${names}.`
      }
      options={columns.map((c) => ({ name: columnNames[c], preview: previewOf(c), taken: isDone(c) }))}
      rows={reports.some((report) => report !== null) ? [pictures, ...rows] : rows}
      chosen={columns.indexOf(chosen)}
      onChoose={(i) => setPicked(columns[i])}
      advised={advised ? columns.indexOf(advised.style) : null}
      advice={advice}
      look={
        shownCuts &&
        shownCuts.length > 0 &&
        chosen !== 'own' && (
          <Button variant="text" onClick={() => edit([...shownCuts])}>
            Change these cuts by hand
          </Button>
        )
      }
      fields={
        <>
          {done && pickedPart && (
            <PartCard
              part={pickedPart}
              density={density}
              printer={pickedPart.printer || (cutFor.length === 1 ? cutFor[0].profile.name : '')}
              faces={faces}
              kind={(placedKinds as readonly string[]).includes(join) && join !== 'none' ? join : 'pin'}
              onPick={(tag) => dispatch(pickPart(body.parts.find((p) => p.tag === tag)?.id ?? null))}
              onMerge={(cut) => {
                const all = done.cuts.map(cutOf);
                edit(all.filter((_, i) => i !== cut - 1));
                setPickedCut(null);
              }}
              onPlaces={(face, next) => setPlaced(withFace(done, pickedPart, face, next, places))}
              onAutomatic={faces.some((f) => f.own) ? () => setPlaced(withoutFaces(done, pickedPart, places)) : null}
            />
          )}
          {printers.length > 1 && (
            <Toggles
              head="Printers"
              label="Printers to cut for"
              choices={printers.map((p) => ({ value: p.id, text: p.profile.name }))}
              on={cutFor.map((p) => p.id)}
              onToggle={(id, on) => {
                const now = cutFor.map((p) => p.id);
                const next = on ? [...now, id] : now.filter((x) => x !== id);
                if (next.length === 0) return;
                setToggled(next);
                choose(next[0]);
              }}
            />
          )}
          {ready && (
            <>
              <KeptClean
                boxes={clean}
                painted={painted}
                onWiped={() => paint([])}
                longestMm={Math.max(...size)}
                onChange={(boxes) => {
                  setKeptClean(boxes);
                  setAsked(false);
                }}
              />
              {wishes ? (
                <WishSliders
                  value={wishes}
                  onChange={(next) => {
                    setWishes(next);
                    setAsked(true);
                    setPicked('weighed');
                  }}
                />
              ) : (
                <Button
                  variant="text"
                  sx={{ alignSelf: 'flex-start' }}
                  onClick={() => setWishes({ parts: 0.5, seam: 0.5, support: 0.25, time: 0 })}
                >
                  Weigh it yourself
                </Button>
              )}
            </>
          )}
          {ready && (
            <AreaProfile
              hash={base.hash}
              cuts={shownCuts ?? done?.cuts.map(cutOf) ?? []}
              onCut={(cut) => edit([...(own ?? []), cut])}
            />
          )}
          {ready && <Creases hash={base.hash} onLook={setLookedAt} onCut={(cut) => edit([...(own ?? []), cut])} />}
          {ready && (
            <Button
              variant="text"
              sx={{ alignSelf: 'flex-start' }}
              onClick={() => {
                edit([...(own ?? []), planeOf({ axis: 'z', mm: middle[2] })]);
                setPickedCut(own?.length ?? 0);
              }}
            >
              Add a cut
            </Button>
          )}
          {own && own.length > 0 && chosen === 'own' && (
            <OwnCuts
              cuts={own}
              middle={middle}
              picked={pickedCut}
              handles={handles}
              longestMm={Math.max(...size)}
              part={pickedPart?.plain ?? null}
              onHandles={setHandles}
              onPick={setPickedCut}
              onChange={edit}
            />
          )}
          <ParamFields of={form}>
            <ParamChoice name="join" label="Joins" choices={joinKinds.map((k) => ({ value: k, text: joinWords[k] }))} />
            {join !== 'none' && (
              <>
                <ParamLength name="clearance" label="Gap a side" hint={fitHint(cutFor[0]?.profile)} />
                <ParamLength name="joinMm" label="Joins at most" hint={figures.joinAcrossMm.reason} />
                <ParamLength
                  name="bandMm"
                  label="Bands in shells"
                  hint={`0 for none; ${figures.bandMm.value} mm: ${figures.bandMm.reason}`}
                />
              </>
            )}
            {(beds.beds ?? [{ margin: undefined }]).some((b) => b.margin === undefined) && (
              <ParamLength name="margin" label="Edge kept free" hint={figures.bedMarginMm.reason} />
            )}
            {margins && <small>{margins}</small>}
            <ParamYesNo name="labels" label="Tags on cut faces" />
            {labels && <ParamLength name="labelMm" label="Letters at most" hint={figures.tagMm.reason} />}
          </ParamFields>
        </>
      }
      action={{
        label,
        disabled: !ready || sending || rooms.length === 0 || (plans && planning) || isDone(chosen),
        run: () => (plans ? setAsked(true) : run(paramsOf(chosen))),
      }}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}

/** A row of plans with what the divide itself came to, where it has that figure. */
function withCut(
  row: ConsequenceRow,
  columns: readonly Column[],
  done: Parameters<typeof cutSo>[0] | undefined,
  length: (mm: number) => string,
): ConsequenceRow {
  const at = columns.indexOf('cut');
  if (at < 0 || !done) return row;
  const { parts, fitting, seamMm } = cutSo(done);
  const slivers = sliversOf(done.parts).length;
  const cells: Record<string, ReactNode> = {
    Parts: whole(parts),
    'Fit the bed': fitting === parts ? 'all' : failed(whole(fitting)),
    'Seam in all': length(seamMm),
    Slivers: whole(slivers),
  };
  return { ...row, cells: row.cells.map((c, i) => (i === at ? (cells[row.label] ?? null) : c)) };
}
