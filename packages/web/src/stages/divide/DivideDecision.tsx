import Button from '@mui/material/Button';
import { useEffect, useMemo, useState } from 'react';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { DivideParams } from '@jasmorphe/core/operations/divide/describe';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { planStyles } from '@jasmorphe/core/planning/cuts/styles';
import { isPlacedByHand } from '@jasmorphe/core/trade/joinKinds';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { pickPart, tellStudied } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { usePainted } from '../../decision/usePainted.ts';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { Toggles } from '../../ui/Toggles.tsx';
import type { StageProps } from '../Stage.ts';
import { useStageBase } from '../stageBase.ts';
import { useStep } from '../useStep.ts';
import { answerOf, columnNames, isAsBefore, isTaken, type Beside, type Column, type Wanted } from './answers.ts';
import { CutByHand } from './CutByHand.tsx';
import { adviceOf, Done, labelOf, leadOf, rowsFor } from './cutsTold.tsx';
import { cutOf, printersOf } from './divideParams.ts';
import { JoinFields } from './JoinFields.tsx';
import { KeptClean } from './KeptClean.tsx';
import { PartCard } from './PartCard.tsx';
import { advisedOf, bedParams, bedsOf, cellsIn, roomsIn } from './plans.ts';
import { useHeldPlane } from './useHeldPlane.ts';
import { useInHand } from './useInHand.ts';
import { facesOf, usePegs, withFace, withoutFaces } from './usePegs.ts';
import { usePlans } from './usePlans.ts';
import { useSeams } from './useSeams.ts';
import { WishSliders } from './WishSliders.tsx';

/** The weights that a maker's own begin with. */
const firstWishes: Wishes = { parts: 0.5, seam: 0.5, support: 0.25, time: 0 };

/** On which beds, and where shall it be cut? */
export function DivideDecision({ body, printers }: StageProps) {
  const say = useSpeaker();
  const dispatch = useAppDispatch();
  const { run, applied, after, sending, stake } = useStep(body, catalogue.divide);
  const base = useStageBase(body, after);
  const { printer, choose, density } = usePrinter(printers);
  const done = applied?.step.report;
  const old: Partial<DivideParams> = applied?.step.params ?? {};
  const form = useParamsForm(catalogue.divide.params, { ...catalogue.divide.begins, ...old });
  const { margin, join } = form.values;
  const facts = base.facts ?? body.mesh.facts;
  const ready = isSound(facts) || facts.watertight;

  const hand = useInHand(body.id, base.hash, old, applied?.step.id);
  const { own, places, clean, painted } = hand;
  const used = hand.printers ?? printersOf(old, printers);
  const chosenPrinters = printers.filter((p) => used.includes(p.id));
  const cutFor = chosenPrinters.length > 0 ? chosenPrinters : printer ? [printer] : [];
  const names = cutFor.map((p) => p.profile.name).join(', ') || 'the usual bed';
  // beds of another time, whose printers are gone, are kept as long as nobody chooses
  const beds = hand.printers === null && old.bed && chosenPrinters.length === 0 ? bedsOf(old) : bedParams(cutFor);

  const [asked, setAsked] = useState(false);
  const [wishes, setWishes] = useState<Wishes | null>(old.weights ?? null);
  const paint = (spots: typeof painted) => {
    hand.setPainted(spots);
    setAsked(false);
  };
  usePainted(painted, paint);
  const shape = {
    ...beds,
    margin,
    ...(clean.length > 0 && { keepClean: clean }),
    ...(painted.length > 0 && { painted }),
  };
  const plans = usePlans(body.id, base.hash, after, ready ? shape : null, { own, wishes, asked });
  const known = asked || plans.any;

  const wanted: Wanted = { values: form.values, beds, places, clean, painted };
  const beside: Beside = { own, wishes, weighed: plans.weighed, quick: plans.quick };
  const asBefore = isAsBefore(old, wanted);
  const isDone = (c: Column): boolean => done !== undefined && asBefore && isTaken(c, old, plans.best, beside);
  const taken = planStyles.find(isDone);
  const columns: Column[] = [
    ...(done && !taken ? (['cut'] as const) : []),
    ...(hand.edited && hand.edited.length > 0 ? (['own'] as const) : []),
    ...(known || !done ? planStyles : []),
    ...(wishes && (known || !done) ? (['weighed'] as const) : []),
  ];
  // cuts that are still in hand from before a reload are what was worked on
  const [picked, setPicked] = useState<Column | null>(() => (hand.edited && hand.edited.length > 0 ? 'own' : null));
  const advised = advisedOf(plans.best);
  const chosen = picked && columns.includes(picked) ? picked : (taken ?? (done ? 'cut' : (advised?.style ?? 'fewest')));
  const chosenReport = plans.reportIn(chosen);

  const [pickedCut, setPickedCut] = useState<number | null>(null);
  const edit = (cuts: PlaneCut[]) => {
    hand.setCuts(cuts);
    setPicked(cuts.length > 0 ? 'own' : null);
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
    [done, pickedPart, places],
  );
  usePegs(chosen === 'own' ? undefined : done, pickedView, faces, (face, index, at) => {
    const moved = face.places.map((p, i) => (i === index ? { ...p, at } : p));
    hand.setPlaces(withFace(done!, pickedPart!, face, moved, places));
  });
  const misfits = chosen === 'own' ? plans.own : null;
  useEffect(() => {
    dispatch(tellStudied(misfits ? catalogue.cuts.findings!.of(new catalogue.cuts.params(), misfits) : []));
    return () => void dispatch(tellStudied([]));
  }, [misfits, dispatch]);

  const middle: Vec3 = [
    (facts.min.x + facts.max.x) / 2,
    (facts.min.y + facts.max.y) / 2,
    (facts.min.z + facts.max.z) / 2,
  ];
  const size: Vec3 = [facts.size.x, facts.size.y, facts.size.z];
  const rooms = roomsIn(beds, margin);
  const [handles, setHandles] = useState<'move' | 'turn'>('move');
  const held = chosen === 'own' && own && pickedCut !== null ? own[pickedCut] : undefined;
  useHeldPlane(base.hash, held && !held.loop ? held : null, handles, { middle, size, rooms }, (cut) =>
    edit(own!.map((c, i) => (i === pickedCut ? cut : c))),
  );

  const toPlan = chosen !== 'cut' && chosen !== 'own' && !chosenReport;
  return (
    <Decision
      step={done ? 'Divided' : 'Decision'}
      question="Where shall it be cut?"
      lead={leadOf(ready, plans, names)}
      options={columns.map((c) => ({ name: columnNames[c], preview: plans.previewOf(c), taken: isDone(c) }))}
      rows={rowsFor(columns, plans, done, say)}
      chosen={columns.indexOf(chosen)}
      onChoose={(i) => setPicked(columns[i])}
      advised={advised ? columns.indexOf(advised.style) : null}
      advice={
        done && (chosen === 'cut' || isDone(chosen)) ? (
          <Done report={done} anew={ready && !known ? () => setAsked(true) : null} />
        ) : (
          adviceOf(cellsIn(size, rooms) === 1, advised, known, names)
        )
      }
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
              kind={join !== 'none' && isPlacedByHand(join) ? join : 'pin'}
              onPick={(tag) => dispatch(pickPart(body.parts.find((p) => p.tag === tag)?.id ?? null))}
              onMerge={
                done.cuts.length > 1
                  ? (cut) => {
                      edit(done.cuts.map(cutOf).filter((_, i) => i !== cut - 1));
                      setPickedCut(null);
                    }
                  : null
              }
              onPlaces={(face, next) => hand.setPlaces(withFace(done, pickedPart, face, next, places))}
              onAutomatic={
                faces.some((f) => f.own) ? () => hand.setPlaces(withoutFaces(done, pickedPart, places)) : null
              }
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
                hand.setPrinters(next);
                choose(next[0]);
              }}
            />
          )}
          {ready && (
            <KeptClean
              boxes={clean}
              painted={painted}
              onWiped={() => paint([])}
              longestMm={Math.max(...size)}
              onChange={(boxes) => {
                hand.setClean(boxes);
                setAsked(false);
              }}
            />
          )}
          {ready && wishes && (
            <WishSliders
              value={wishes}
              onChange={(next) => {
                setWishes(next);
                setAsked(true);
                setPicked('weighed');
              }}
            />
          )}
          {ready && !wishes && (
            <Button variant="text" sx={{ alignSelf: 'flex-start' }} onClick={() => setWishes(firstWishes)}>
              Weigh it yourself
            </Button>
          )}
          <CutByHand
            hash={ready ? base.hash : null}
            shown={shownCuts ?? done?.cuts.map(cutOf) ?? []}
            own={own}
            listed={chosen === 'own'}
            middle={middle}
            longestMm={Math.max(...size)}
            picked={pickedCut}
            handles={handles}
            part={pickedPart?.plain ?? null}
            onLook={setLookedAt}
            onHandles={setHandles}
            onPick={setPickedCut}
            onChange={edit}
          />
          <JoinFields of={form} printer={cutFor[0]?.profile} beds={beds.beds} />
        </>
      }
      action={{
        label: labelOf(chosen, plans),
        disabled: !ready || sending || rooms.length === 0 || (toPlan && plans.planning) || isDone(chosen),
        run: () =>
          toPlan ? setAsked(true) : run(answerOf(chosen, wanted, plans.best, beside, { old, done, parts: body.parts })),
      }}
      busy={body.busyJobId !== null}
      stake={stake}
    />
  );
}
