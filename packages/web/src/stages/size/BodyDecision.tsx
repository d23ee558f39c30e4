import Button from '@mui/material/Button';
import { useEffect, useRef, useState } from 'react';
import { axes } from '@jasmorphe/core/mesh/axes';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/describe';
import { anthropometrySource } from '@jasmorphe/core/trade/anthropometry';
import { useChangeReferenceMutation, useRemoveReferenceMutation, useRunStepMutation, wordsOf } from '../../app/api.ts';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { moveFigure, showFigure, showMap, tellStudied } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, LengthField, NumberField } from '../../forms/Fields.tsx';
import { Toggles } from '../../ui/Toggles.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { clearanceParams } from './clearanceParams.ts';
import { BackToSize, type LookProps } from './BackToSize.tsx';
import { LandmarkPairs } from './LandmarkPairs.tsx';
import { NewBody } from './NewBody.tsx';
import { RoomByRegion } from './RoomByRegion.tsx';
import { usePlacedFigure } from './usePlacedFigure.ts';

type Triple = [number, number, number];
/** to a hundredth of a millimetre or degree, as the handles leave it */
const tidied = (x: number): number => Math.round(100 * x) / 100;

/** Does it fit whom it is for? */
export function BodyDecision({ body, printers: _, onClose }: LookProps) {
  const dispatch = useAppDispatch();
  const length = useLength();
  const [picked, setPicked] = useState<string | null>(body.references[0]?.id ?? null);
  const reference = body.references.find((r) => r.id === picked) ?? body.references[0];
  const mapped = useAppSelector((s) => s.bench.map?.kind === 'clearance');
  const [adding, setAdding] = useState(body.references.length === 0);
  const [change] = useChangeReferenceMutation();
  const [remove] = useRemoveReferenceMutation();
  const [add, running] = useRunStepMutation();
  const [settle, setSettle] = useState<Triple | null>(null);
  const settled = useRef<string | null>(null);
  const [chosen, setChosen] = useState(0);
  const { length: many } = body.references;
  const [count, setCount] = useState(many);
  if (many !== count) {
    setCount(many);
    // a body that was just made is the one to look at
    if (many > count) {
      setPicked(body.references[many - 1].id);
      setAdding(false);
    }
  }
  const { mine, place } = usePlacedFigure(body.id, reference, adding);

  const [asIs] = usePreviews(body.id, body.mesh.hash, [
    mine && reference ? ask(catalogue.clearance, clearanceParams(reference, mine)) : null,
  ]);
  const report = reportOf(asIs, catalogue.clearance);
  // the turn that it has when it is let go is the one it keeps
  const [seat] = usePreviews(body.id, body.mesh.hash, [
    settle && mine && reference
      ? ask(catalogue.clearance, { ...clearanceParams(reference, { move: [0, 0, 0], turn: settle }), seat: true })
      : null,
  ]);
  const settling = settle !== null && seat.state === 'working';
  useEffect(() => {
    if (seat.state !== 'ready' || settle === null || settled.current === seat.step.id) return;
    settled.current = seat.step.id;
    const found = reportOf(seat, catalogue.clearance)?.move;
    if (found) dispatch(moveFigure({ move: [found.x, found.y, found.z], turn: settle }));
  }, [settle, seat, dispatch]);
  const letSettle = () => {
    settled.current = null;
    if (mine) setSettle([...mine.turn]);
  };
  const factor = report?.suggestedFactor ? Number(report.suggestedFactor.toPrecision(5)) : null;
  const about: Triple = report ? [report.about.x, report.about.y, report.about.z] : [0, 0, 0];
  const [scaled] = usePreviews(body.id, body.mesh.hash, [
    mine && reference && factor !== null
      ? ask(catalogue.clearance, clearanceParams(reference, mine, factor, about))
      : null,
  ]);
  const fitted = reportOf(scaled, catalogue.clearance);
  useEffect(() => {
    dispatch(tellStudied(report ? catalogue.clearance.findings!.of(new catalogue.clearance.params(), report) : []));
  }, [report, dispatch]);
  useEffect(() => {
    if (mapped && reference) dispatch(showMap({ kind: 'clearance', factor: 1, liningMm: reference.liningMm }));
  }, [mapped, reference?.liningMm, reference, dispatch]);

  if (adding || !reference)
    return (
      <NewBody body={body} onDone={body.references.length > 0 ? () => setAdding(false) : null} onClose={onClose} />
    );

  const both = [report, fitted];
  const row = (label: string, of: (r: ClearanceReport) => string, method?: string) => ({
    label,
    cells: both.map((r) => (r ? of(r) : null)),
    method,
  });
  const sighted = report ? report.sight !== null : reference.kind === 'head';
  const worst = [...(report?.regions ?? [])].sort((a, b) => a.leastMm - b.leastMm);
  return (
    <Decision
      step="On a body"
      question={`Does it fit ${reference.name}?`}
      lead={`Room between the body and the skin that faces it${
        reference.liningMm > 0 ? `, ${length(reference.liningMm)} of lining taken off` : ''
      }. The body is never printed.`}
      options={[
        { name: 'As it is', preview: asIs },
        { name: factor === null ? 'Just fits' : `×${fixed(factor, 3)}`, preview: scaled },
      ]}
      rows={[
        row('Least room', (r) => length(r.leastMm)),
        row('5 % have less than', (r) => length(r.p05Mm), 'of the inside, by area'),
        row('Typical room', (r) => length(r.typicalMm)),
        row('Touches', (r) => `${fixed(r.touchingPct, 1)} %`, 'of the inside, lining included'),
        ...(sighted
          ? [
              row(
                'Sees left, right',
                (r) => `${fixed(r.sight!.both.leftDeg, 0)}°, ${fixed(r.sight!.both.rightDeg, 0)}°`,
                'free without a break from straight ahead, by either eye, to 90°',
              ),
              row('Sees up, down', (r) => `${fixed(r.sight!.both.upDeg, 0)}°, ${fixed(r.sight!.both.downDeg, 0)}°`),
              row(
                'Field of view',
                (r) => `${fixed((100 * r.sight!.both.freePct) / Math.max(1, r.sight!.bare.freePct), 0)} %`,
                'of what the bare head sees ahead',
              ),
              row(
                'Breath ahead',
                (r) =>
                  `${fixed((r.openings ?? []).filter((o) => o.ahead).reduce((s, o) => s + o.areaMm2, 0) / 100, 1)} cm²`,
                'openings ahead seen from the mouth; a windpipe is about 2.5 cm² across, from memory of anatomy handbooks',
              ),
            ]
          : []),
      ]}
      chosen={chosen}
      onChoose={setChosen}
      advised={report && fitted ? (report.leastMm < reference.wantMm - 0.05 ? 1 : 0) : null}
      advice={
        running.error ? (
          <>
            <b>{wordsOf(running.error).message}</b> {wordsOf(running.error).hint}
          </>
        ) : !report ? (
          'Being measured.'
        ) : factor === null ? (
          'No factor gives that room here: the body lies outside, or touches where no scaling moves it. Place it first.'
        ) : (
          <>
            {report.leastMm >= 0
              ? 'It goes on: '
              : reference.liningMm > 0
                ? 'With its lining it does not go on: '
                : 'It does not go on: '}
            narrowest at the {worst[0]?.name}. ×{fixed(factor, 3)} would leave {length(reference.wantMm)} there.
            {report.breathOfWindpipes !== null && report.breathOfWindpipes < 3 && (
              <>
                {' '}
                <b>Openings ahead of the mouth are small</b>: {fixed(report.breathOfWindpipes, 1)} windpipes. Add some.
              </>
            )}
          </>
        )
      }
      look={
        <>
          <Toggles
            label="Body on the bench"
            head="On the bench"
            choices={[
              { value: 'move', text: 'Move' },
              { value: 'turn', text: 'Turn' },
              { value: 'room', text: 'Room' },
            ]}
            on={[...(mine?.handles ? [mine.handles] : []), ...(mapped ? ['room' as const] : [])]}
            onToggle={(what, on) => {
              if (what === 'room')
                dispatch(showMap(on ? { kind: 'clearance', factor: 1, liningMm: reference.liningMm } : null));
              else if (mine) dispatch(showFigure({ ...mine, handles: on ? what : null }));
            }}
          />
          {report && <RoomByRegion regions={worst} />}
        </>
      }
      fields={
        <>
          <ChoiceField
            label="Body"
            value={reference.id}
            onChange={(id) => (id === 'new' ? setAdding(true) : setPicked(id))}
            choices={[
              ...body.references.map((r) => ({ value: r.id, text: r.name })),
              { value: 'new', text: 'another body …' },
            ]}
          />
          <LengthField
            label="Lining"
            mm={reference.liningMm || null}
            onChange={(v) => void change({ id: reference.id, bodyId: body.id, liningMm: v ?? 0 })}
            optional
          />
          <LengthField
            label="Room wanted beyond it"
            mm={reference.wantMm || null}
            onChange={(v) => void change({ id: reference.id, bodyId: body.id, wantMm: v ?? 0 })}
            optional
          />
          {mine &&
            axes.map((axis, k) => (
              <NumberField
                key={`move${axis}`}
                label={`Stands at ${axis}, mm`}
                value={tidied(mine.move[k])}
                refused={Math.abs(mine.move[k]) < 1e6 ? null : 'a number such as -12.5'}
                onChange={(v) => v !== null && place({ move: mine.move.map((m, i) => (i === k ? v : m)) as Triple })}
                example="a number such as -12.5"
              />
            ))}
          {mine &&
            axes.map((axis, k) => (
              <NumberField
                key={`turn${axis}`}
                label={`Turned about ${axis}, °`}
                value={tidied(mine.turn[k])}
                refused={Math.abs(mine.turn[k]) <= 360 ? null : 'degrees from -360 to 360'}
                onChange={(v) => v !== null && place({ turn: mine.turn.map((m, i) => (i === k ? v : m)) as Triple })}
                example="degrees from -360 to 360"
              />
            ))}
          <Button variant="text" disabled={settling} onClick={letSettle}>
            {settling ? 'Settling it in …' : 'Let it settle in'}
          </Button>
          {mine && <LandmarkPairs key={reference.id} reference={reference} mine={mine} place={place} />}
          <Button variant="text" onClick={() => void remove({ id: reference.id, bodyId: body.id })}>
            Take this body away
          </Button>
        </>
      }
      action={{
        label: factor === null ? 'Size' : `Size ×${fixed(factor, 3)}`,
        disabled: running.isLoading || factor === null || !mine || Math.abs(factor - 1) < 1e-4,
        run: () =>
          void add({ bodyId: body.id, operation: catalogue.size.name, params: { factor } })
            .unwrap()
            .then(
              () => {
                void change({
                  id: reference.id,
                  bodyId: body.id,
                  move: mine!.move.map((m, k) => m + (factor! - 1) * about[k]) as Triple,
                });
                onClose();
              },
              () => undefined,
            ),
      }}
      foot={
        <>
          {reference.kind !== 'scan' && <small title={anthropometrySource}>Shape: common proportions. </small>}
          <BackToSize onClose={onClose} />
        </>
      }
      busy={body.busyJobId !== null}
    />
  );
}
