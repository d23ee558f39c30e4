import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { SavePlace } from '@jasmorphe/contracts/requests';
import type { PlaceView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { PlaceVerdict } from '@jasmorphe/core/planning/places';
import { placeKinds, type PlaceKind } from '@jasmorphe/core/trade/placeKinds';
import { countOf, fixed } from '@jasmorphe/core/words/numbers';
import { usePlacesQuery, useRemovePlaceMutation, useSavePlaceMutation, wordsOf } from '../../app/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { tellStudied } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { failed } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { ChoiceField } from '../../forms/Fields.tsx';
import { ParamChoice, ParamFields, ParamLength, ParamText } from '../../forms/ParamFields.tsx';
import { useParamsForm } from '../../forms/useParamsForm.ts';
import { BackToSize, type StudyProps } from './BackToSize.tsx';

const kindWords: Record<PlaceKind, string> = {
  stand: 'it stands there upright',
  pass: 'it passes through',
  lie: 'it lies in there, any way',
};

const fresh = { name: 'New place', kind: 'lie' as PlaceKind };

const given = (mm: number | null | undefined): number | undefined => mm ?? undefined;

const startOf = (place: PlaceView | undefined): Partial<SavePlace> =>
  place
    ? {
        name: place.name,
        kind: place.kind,
        widthMm: given(place.widthMm),
        depthMm: given(place.depthMm),
        heightMm: given(place.heightMm),
      }
    : fresh;

/** Whether the whole goes there. */
const wholeCell = (v: PlaceVerdict | undefined) =>
  v ? (v.fits ? 'yes' : failed(`no, ${fixed(100 * v.largestFactor, 0)} %`)) : null;

/** How many of the parts go there. */
const partsCell = (v: PlaceVerdict | undefined) =>
  v?.parts ? (v.parts.fit === v.parts.of ? 'all' : `${v.parts.fit} of ${v.parts.of}`) : null;

/** What the verdicts come to. */
function adviceOf(
  places: readonly PlaceView[],
  verdicts: readonly PlaceVerdict[] | undefined,
  inParts: boolean,
): string {
  if (places.length === 0) return 'Name the first place below: a room, a bench, a door, a boot.';
  if (!verdicts) return 'Being tried.';
  const misfits = verdicts.filter((v) => !v.fits).map((v) => v.name);
  if (misfits.length === 0) return 'It stands and passes everywhere named here.';
  const names = `${misfits.join(', ')}: not whole.`;
  return inParts ? names : `${names} What must travel stays dismountable and unglued: Divide, then look here again.`;
}

/** Where will it stand, and how will it travel? */
export function PlacesDecision(props: StudyProps) {
  const { data: places = [] } = usePlacesQuery();
  const [picked, setPicked] = useState<string | null>(null);
  const place = places.find((p) => p.id === picked);
  // the fields begin anew with each place
  return <PlaceCard key={place?.id ?? 'new'} {...props} places={places} place={place} onPick={setPicked} />;
}

function PlaceCard({
  body,
  onClose,
  places,
  place,
  onPick,
}: StudyProps & { places: PlaceView[]; place: PlaceView | undefined; onPick: (id: string | null) => void }) {
  const dispatch = useAppDispatch();
  const length = useLength();
  const [save, saving] = useSavePlaceMutation();
  const [remove] = useRemovePlaceMutation();
  const start = startOf(place);
  const form = useParamsForm(SavePlace, start);
  const { name, kind, widthMm, depthMm, heightMm } = form.values;
  const changed = (['name', 'kind', 'widthMm', 'depthMm', 'heightMm'] as const).some(
    (k) => form.values[k] !== start[k],
  );
  const parts = body.parts.map((p) => p.mesh.hash);
  const [preview] = usePreviews(body.id, body.mesh.hash, [
    places.length > 0
      ? ask(catalogue.whereabouts, {
          places: places.map(({ id: _, ...p }) => p),
          ...(parts.length > 0 ? { parts } : {}),
        })
      : null,
  ]);
  const verdicts = reportOf(preview, catalogue.whereabouts)?.places;
  useEffect(() => {
    const report = verdicts && { places: verdicts };
    dispatch(tellStudied(report ? catalogue.whereabouts.findings!.of(new catalogue.whereabouts.params(), report) : []));
    return () => void dispatch(tellStudied([]));
  }, [verdicts, dispatch]);
  return (
    <Decision
      step="Where it goes"
      question="Where will it stand, how will it travel?"
      lead="Tested with the whole and with its parts, in any turning that the place allows. Parts are tested one by one, not packed."
      options={[
        { name: 'Whole', preview },
        ...(parts.length > 0 ? [{ name: countOf(parts.length, 'part'), preview }] : []),
      ]}
      rows={places.map((p, i) => ({
        label: p.name,
        cells: [wholeCell(verdicts?.[i]), ...(parts.length > 0 ? [partsCell(verdicts?.[i])] : [])],
        method: `${kindWords[p.kind]}: ${[p.widthMm, p.depthMm, p.heightMm].map((x) => (x === null ? '–' : length(x, false))).join(' × ')}`,
      }))}
      chosen={0}
      onChoose={() => undefined}
      advised={null}
      advice={
        saving.error ? (
          <>
            <b>{wordsOf(saving.error).message}</b> {wordsOf(saving.error).hint}
          </>
        ) : (
          adviceOf(places, verdicts, parts.length > 0)
        )
      }
      fields={
        <>
          <ChoiceField
            label="Place"
            value={place?.id ?? 'new'}
            onChange={(v) => onPick(v === 'new' ? null : v)}
            choices={[{ value: 'new', text: 'a new one' }, ...places.map((p) => ({ value: p.id, text: p.name }))]}
          />
          <ParamFields of={form}>
            <ParamText name="name" label="Name" maxLength={80} />
            <ParamChoice
              name="kind"
              label="There"
              choices={placeKinds.map((value) => ({ value, text: kindWords[value] }))}
            />
            <ParamLength name="widthMm" label="Width" />
            {kind !== 'pass' && <ParamLength name="depthMm" label="Depth" />}
            <ParamLength name="heightMm" label="Height" />
          </ParamFields>
          {place && (
            <Button
              variant="text"
              onClick={() => {
                void remove(place.id);
                onPick(null);
              }}
            >
              Remove this place
            </Button>
          )}
        </>
      }
      action={{
        label: place ? 'Change the place' : 'Add the place',
        disabled: saving.isLoading || !changed || !name.trim(),
        run: () =>
          void save({
            ...(place ? { id: place.id } : {}),
            name,
            kind,
            widthMm: widthMm ?? null,
            depthMm: kind === 'pass' ? null : (depthMm ?? null),
            heightMm: heightMm ?? null,
          })
            .unwrap()
            .then(
              (p) => onPick(p.id),
              () => undefined,
            ),
      }}
      foot={<BackToSize onClose={onClose} />}
      busy={false}
    />
  );
}
