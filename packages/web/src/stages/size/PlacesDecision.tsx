import { useEffect, useState } from 'react';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import type { PlaceView } from '@jasmorphe/contracts/views';
import { placeKinds, type PlaceKind } from '@jasmorphe/core/trade/placeKinds';
import type { PlaceVerdict } from '@jasmorphe/core/planning/places';
import { usePlacesQuery, useRemovePlaceMutation, useSavePlaceMutation, wordsOf } from '../../app/api.ts';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useAppDispatch } from '../../app/store.ts';
import { useLength } from '../../app/useLength.ts';
import { tellStudied } from '../../bench/benchSlice.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, LengthField } from '../../decision/Fields.tsx';
import { reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { BackToSize, type LookProps } from './BackToSize.tsx';

const kindWords: Record<PlaceKind, string> = {
  stand: 'it stands there upright',
  pass: 'it passes through',
  lie: 'it lies in there, any way',
};
const fresh = { name: 'New place', kind: 'lie' as PlaceKind, widthMm: null, depthMm: null, heightMm: null };

/** Where will it stand, and how will it travel? */
export function PlacesDecision({ body, onClose }: LookProps) {
  const dispatch = useAppDispatch();
  const length = useLength();
  const { data: places = [] } = usePlacesQuery();
  const [save, saving] = useSavePlaceMutation();
  const [remove] = useRemovePlaceMutation();
  const [picked, setPicked] = useState<string | null>(null);
  const [edited, setEdited] = useState<Partial<PlaceView>>({});
  const place: Partial<PlaceView> = { ...(places.find((p) => p.id === picked) ?? fresh), ...edited };
  const parts = body.parts.map((p) => p.mesh.hash);
  const [preview] = usePreviews(body.id, body.mesh.hash, [
    places.length > 0
      ? {
          operation: catalogue.places.name,
          params: { places: places.map(({ id: _, ...p }) => p), ...(parts.length > 0 ? { parts } : {}) },
        }
      : null,
  ]);
  const verdicts = reportOf(preview, catalogue.places)?.places;
  useEffect(() => {
    const report = verdicts && { places: verdicts };
    dispatch(tellStudied(report ? catalogue.places.findings!.of(new catalogue.places.params(), report) : []));
    return () => void dispatch(tellStudied([]));
  }, [verdicts, dispatch]);
  const cell = (v: PlaceVerdict | undefined) =>
    v ? v.fits ? 'yes' : <span className="cellFailed">{`no, ${fixed(100 * v.largestFactor, 0)} %`}</span> : null;
  const misfits = verdicts?.filter((v) => !v.fits) ?? [];
  return (
    <Decision
      step="Where it goes"
      question="Where will it stand, how will it travel?"
      lead="Tested with the whole and with its parts, in any turning that the place allows. Parts are tested one by one, not packed."
      options={[{ name: 'Whole', preview }, ...(parts.length > 0 ? [{ name: `${parts.length} parts`, preview }] : [])]}
      rows={places.map((p, i) => {
        const v = verdicts?.[i];
        return {
          label: p.name,
          cells: [
            cell(v),
            ...(parts.length > 0
              ? [v?.parts ? (v.parts.fit === v.parts.of ? 'all' : `${v.parts.fit} of ${v.parts.of}`) : null]
              : []),
          ],
          method: `${kindWords[p.kind]}: ${[p.widthMm, p.depthMm, p.heightMm].map((x) => (x === null ? '–' : length(x, false))).join(' × ')}`,
        };
      })}
      chosen={0}
      onChoose={() => undefined}
      advised={null}
      advice={
        saving.error ? (
          <>
            <b>{wordsOf(saving.error).message}</b> {wordsOf(saving.error).hint}
          </>
        ) : places.length === 0 ? (
          'Name the first place below: a room, a bench, a door, a boot.'
        ) : !verdicts ? (
          'Being tried.'
        ) : misfits.length === 0 ? (
          'It stands and passes everywhere named here.'
        ) : parts.length === 0 ? (
          `${misfits.map((v) => v.name).join(', ')}: not whole. What must travel stays dismountable and unglued: Divide, then look here again.`
        ) : (
          `${misfits.map((v) => v.name).join(', ')}: not whole.`
        )
      }
      fields={
        <>
          <ChoiceField
            label="Place"
            value={picked ?? 'new'}
            onChange={(v) => {
              setPicked(v === 'new' ? null : v);
              setEdited({});
            }}
            choices={[{ value: 'new', text: 'a new one' }, ...places.map((p) => ({ value: p.id, text: p.name }))]}
          />
          <label className="fieldLine">
            <span>Name</span>
            <input
              value={place.name ?? ''}
              maxLength={80}
              onChange={(e) => setEdited((x) => ({ ...x, name: e.target.value }))}
            />
          </label>
          <ChoiceField
            label="There"
            value={place.kind ?? 'lie'}
            onChange={(kind) => setEdited((x) => ({ ...x, kind }))}
            choices={placeKinds.map((value) => ({ value, text: kindWords[value] }))}
          />
          <LengthField
            label="Width"
            mm={place.widthMm ?? null}
            onChange={(widthMm) => setEdited((x) => ({ ...x, widthMm }))}
            optional
          />
          {place.kind !== 'pass' && (
            <LengthField
              label="Depth"
              mm={place.depthMm ?? null}
              onChange={(depthMm) => setEdited((x) => ({ ...x, depthMm }))}
              optional
            />
          )}
          <LengthField
            label="Height"
            mm={place.heightMm ?? null}
            onChange={(heightMm) => setEdited((x) => ({ ...x, heightMm }))}
            optional
          />
          {picked && (
            <button
              type="button"
              className="plain accent"
              onClick={() => {
                void remove(picked);
                setPicked(null);
                setEdited({});
              }}
            >
              Remove this place
            </button>
          )}
        </>
      }
      action={{
        label: picked ? 'Change the place' : 'Add the place',
        disabled: saving.isLoading || Object.keys(edited).length === 0 || !place.name?.trim(),
        run: () =>
          void save({
            ...(picked ? { id: picked } : {}),
            name: place.name,
            kind: place.kind,
            widthMm: place.widthMm,
            depthMm: place.kind === 'pass' ? null : place.depthMm,
            heightMm: place.heightMm,
          })
            .unwrap()
            .then(
              (p) => {
                setPicked(p.id);
                setEdited({});
              },
              () => undefined,
            ),
      }}
      foot={<BackToSize onClose={onClose} />}
      busy={false}
    />
  );
}
