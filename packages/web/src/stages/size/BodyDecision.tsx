import { useEffect, useState, type ReactNode } from 'react';
import type { ReferenceView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/describe';
import { anthropometrySource } from '@jasmorphe/core/trade/anthropometry';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useChangeReferenceMutation, useRunStepMutation, wordsOf } from '../../app/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { showBody, showMap, type PlacedBody } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { Toggles } from '../../ui/Toggles.tsx';
import { BackToSize, type StudyProps } from './BackToSize.tsx';
import { BodyFields } from './BodyFields.tsx';
import { clearanceRows } from './clearanceRows.ts';
import { NewBody } from './NewBody.tsx';
import { RoomByRegion } from './RoomByRegion.tsx';
import { useClearanceStudies, type ClearanceStudies } from './useClearanceStudies.ts';
import { usePlacedBody } from './usePlacedBody.ts';

/** Through openings of fewer windpipes ahead of the mouth breathing is hard. Common practice. */
const fewWindpipes = 3;

/** The narrowest region first. */
const narrowestFirst = (report: ClearanceReport | null) =>
  [...(report?.regions ?? [])].sort((a, b) => a.leastMm - b.leastMm);

/** Whether it goes on, and what would make it. */
function BodyAdvice({
  reference,
  report,
  factor,
}: { reference: ReferenceView } & Pick<ClearanceStudies, 'report' | 'factor'>) {
  const length = useLength();
  if (!report) return 'Being measured.';
  if (factor === null)
    return 'No factor gives that room here: the body lies outside, or touches where no scaling moves it. Place it first.';
  const goesOn =
    report.leastMm >= 0
      ? 'It goes on'
      : reference.liningMm > 0
        ? 'With its lining it does not go on'
        : 'It does not go on';
  const { breathOfWindpipes: breath } = report;
  return (
    <>
      {goesOn}: narrowest at the {narrowestFirst(report)[0]?.name}. ×{fixed(factor, 3)} would leave{' '}
      {length(reference.wantMm)} there.
      {breath !== null && breath < fewWindpipes && (
        <>
          {' '}
          <b>Openings ahead of the mouth are small</b>: {fixed(breath, 1)} windpipes. Add some.
        </>
      )}
    </>
  );
}

/** What the bench shows of a body: handles to move and turn it, and the room around it in colours. */
function BodyLook({
  reference,
  mine,
  report,
}: {
  reference: ReferenceView;
  mine: PlacedBody | null;
  report: ClearanceReport | null;
}) {
  const dispatch = useAppDispatch();
  const mapped = useAppSelector((s) => s.bench.map?.kind === 'clearance');
  const { liningMm } = reference;
  useEffect(() => {
    if (mapped) dispatch(showMap({ kind: 'clearance', factor: 1, liningMm }));
  }, [mapped, liningMm, dispatch]);
  return (
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
          if (what === 'room') dispatch(showMap(on ? { kind: 'clearance', factor: 1, liningMm } : null));
          else if (mine) dispatch(showBody({ ...mine, handles: on ? what : null }));
        }}
      />
      {report && <RoomByRegion regions={narrowestFirst(report)} />}
    </>
  );
}

/** Does it fit whom it is for? */
export function BodyDecision({ body, onClose }: StudyProps) {
  const length = useLength();
  const [picked, setPicked] = useState<string | null>(body.references[0]?.id ?? null);
  const reference = body.references.find((r) => r.id === picked) ?? body.references[0];
  const [adding, setAdding] = useState(body.references.length === 0);
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
  const [change] = useChangeReferenceMutation();
  const [add, running] = useRunStepMutation();
  const [chosen, setChosen] = useState(0);
  const { mine, place } = usePlacedBody(body.id, reference, adding);
  const { asIs, scaled, report, fitted, factor, about, ...settle } = useClearanceStudies(body, reference, mine);
  if (adding || !reference)
    return <NewBody body={body} onDone={many > 0 ? () => setAdding(false) : null} onClose={onClose} />;
  const sizeIt = async (by: number, at: PlacedBody['move']) => {
    const done = await add({ bodyId: body.id, operation: catalogue.size.name, params: { factor: by } });
    if (done.error) return;
    // the body keeps its place in the larger model
    const [x, y, z] = at.map((m, k) => m + (by - 1) * about[k]);
    void change({ id: reference.id, bodyId: body.id, move: [x, y, z] });
    onClose();
  };
  const lead: ReactNode =
    reference.liningMm > 0
      ? `Room between the body and the skin that faces it, ${length(reference.liningMm)} of lining taken off. The body is never printed.`
      : 'Room between the body and the skin that faces it. The body is never printed.';
  return (
    <Decision
      step="On a body"
      question={`Does it fit ${reference.name}?`}
      lead={lead}
      options={[
        { name: 'As it is', preview: asIs },
        { name: factor === null ? 'Just fits' : `×${fixed(factor, 3)}`, preview: scaled },
      ]}
      rows={clearanceRows([report, fitted], length, report ? report.sight !== null : reference.kind === 'head')}
      chosen={chosen}
      onChoose={setChosen}
      advised={report && fitted ? (report.leastMm < reference.wantMm - 0.05 ? 1 : 0) : null}
      advice={
        running.error ? (
          <>
            <b>{wordsOf(running.error).message}</b> {wordsOf(running.error).hint}
          </>
        ) : (
          <BodyAdvice reference={reference} report={report} factor={factor} />
        )
      }
      look={<BodyLook reference={reference} mine={mine} report={report} />}
      fields={
        <BodyFields
          body={body}
          reference={reference}
          mine={mine}
          place={place}
          onPick={(id) => (id === null ? setAdding(true) : setPicked(id))}
          {...settle}
        />
      }
      action={{
        label: factor === null ? 'Size' : `Size ×${fixed(factor, 3)}`,
        disabled: running.isLoading || factor === null || !mine || Math.abs(factor - 1) < 1e-4,
        run: () => {
          if (factor !== null && mine) void sizeIt(factor, mine.move);
        },
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
