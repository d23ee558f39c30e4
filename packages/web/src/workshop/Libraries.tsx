import Button from '@mui/material/Button';
import { useState } from 'react';
import { SavePlace } from '@jasmorphe/contracts/requests';
import type { PlaceView, SavedBodyView } from '@jasmorphe/contracts/views';
import { SaveBody } from '@jasmorphe/contracts/workshopRequests';
import { measuresOf, publishedMeasures } from '@jasmorphe/core/reference/makeReference';
import { referenceKinds, type ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';
import { usePlacesQuery, useSavePlaceMutation } from '../app/api.ts';
import { useLength } from '../app/useLength.ts';
import { LengthField } from '../forms/Fields.tsx';
import { kindWords, measureWords } from '../stages/size/bodyWords.ts';
import { FigureTable } from '../ui/FigureTable.tsx';
import { ThingForm, type FieldGroup } from './ThingForm.tsx';
import { useRemoveThingMutation, useSaveBodyMutation, useSavedBodiesQuery } from './workshopApi.ts';
import { RowActs } from './ThingSection.ts';
import { Actions } from '../ui/layout.ts';

const placeKinds = [
  { value: 'stand', text: 'it stands there' },
  { value: 'pass', text: 'it passes through' },
  { value: 'lie', text: 'it lies in it' },
];

const placeGroups: readonly FieldGroup<SavePlace>[] = [
  {
    title: 'Place',
    fields: [
      { key: 'name', label: 'Name', as: 'words', maxLength: 80 },
      { key: 'kind', label: 'What of it', as: 'choice', choices: placeKinds },
      { key: 'widthMm', label: 'Width', as: 'length' },
      { key: 'depthMm', label: 'Depth', as: 'length' },
      { key: 'heightMm', label: 'Height', as: 'length' },
    ],
  },
];

/** Without what is not known. */
const known = <T extends object>(value: T): Partial<T> =>
  Object.fromEntries(Object.entries(value).filter(([, v]) => v !== null && v !== undefined)) as Partial<T>;

/** Rooms, benches, doors and boots, for all projects. */
export function Places() {
  const { data: places = [] } = usePlacesQuery();
  const [save] = useSavePlaceMutation();
  const [remove] = useRemoveThingMutation();
  const length = useLength();
  const [open, setOpen] = useState<Partial<PlaceView> | null>(null);
  if (open) {
    const { id, ...start } = open;
    return (
      <ThingForm
        title={id ? 'Change a place' : 'A new place'}
        Class={SavePlace}
        start={known(start) as Partial<SavePlace>}
        groups={placeGroups}
        save={(p) => save({ id, ...known(p) })}
        onClose={() => setOpen(null)}
      />
    );
  }
  const size = (mm: number | null) => (mm === null ? '—' : length(mm));
  return (
    <>
      <FigureTable
        label="Places"
        heads={['Place', 'What of it', 'Width', 'Depth', 'Height', '']}
        rows={places.map((p) => ({
          key: p.id,
          cells: [
            p.name,
            placeKinds.find((k) => k.value === p.kind)!.text,
            size(p.widthMm),
            size(p.depthMm),
            size(p.heightMm),
            <RowActs key="acts">
              <Button variant="text" onClick={() => setOpen(p)}>
                Change
              </Button>
              <Button variant="text" onClick={() => void remove({ list: 'places', id: p.id })}>
                Remove
              </Button>
            </RowActs>,
          ],
        }))}
      />
      <Actions>
        <Button variant="outlined" onClick={() => setOpen({ kind: 'stand' })}>
          New place
        </Button>
      </Actions>
    </>
  );
}

const bodyGroups: readonly FieldGroup<SaveBody>[] = [
  {
    title: 'Body',
    fields: [
      { key: 'name', label: 'Whose', as: 'words', maxLength: 80 },
      {
        key: 'kind',
        label: 'Kind',
        as: 'choice',
        choices: referenceKinds.map((value) => ({ value, text: kindWords[value] })),
      },
    ],
  },
];

/** The measures of a body; those that are not measured are the published ones. */
function Measures({ value, onChange }: { value: Partial<SaveBody>; onChange: (m: Record<string, number>) => void }) {
  const kind: ReferenceKind = value.kind ?? 'head';
  const usual: Record<string, number> = publishedMeasures(kind, 'women', 50);
  const own = value.measures ?? {};
  return (
    <div className="fields">
      {Object.keys(measuresOf[kind]).map((name) => (
        <LengthField
          key={kind + name}
          label={measureWords[name]}
          hint={name in own ? undefined : 'the published figure, until it is measured'}
          mm={own[name] ?? usual[name]}
          above0
          onChange={(mm) => mm !== null && onChange({ ...own, [name]: mm })}
        />
      ))}
    </div>
  );
}

/** Heads, hands and figures of people, for all projects. */
export function Bodies() {
  const { data: bodies = [] } = useSavedBodiesQuery();
  const [save] = useSaveBodyMutation();
  const [remove] = useRemoveThingMutation();
  const length = useLength();
  const [open, setOpen] = useState<Partial<SavedBodyView> | null>(null);
  if (open) {
    const { id, ...start } = open;
    return (
      <ThingForm
        title={id ? 'Change a body' : 'A new body'}
        Class={SaveBody}
        start={start}
        groups={bodyGroups}
        save={({ measures = {}, kind = 'head', ...b }) => {
          // measures of another kind that were typed before mean nothing now
          const mine = Object.fromEntries(Object.entries(measures).filter(([name]) => name in measuresOf[kind]));
          return save({ id, kind, measures: mine, ...b });
        }}
        onClose={() => setOpen(null)}
        more={(value, set) => <Measures value={value} onChange={(measures) => set({ measures })} />}
      />
    );
  }
  return (
    <>
      <FigureTable
        label="Bodies"
        heads={['Whose', 'Kind', 'Measured', '']}
        rows={bodies.map((b) => ({
          key: b.id,
          cells: [
            b.name,
            kindWords[b.kind],
            Object.entries(b.measures)
              .map(([name, mm]) => `${measureWords[name] ?? name} ${length(mm)}`)
              .join(', ') || 'usual',
            <RowActs key="acts">
              <Button variant="text" onClick={() => setOpen(b)}>
                Change
              </Button>
              <Button variant="text" onClick={() => void remove({ list: 'saved-bodies', id: b.id })}>
                Remove
              </Button>
            </RowActs>,
          ],
        }))}
      />
      {bodies.length === 0 && (
        <p className="quiet">Measure those for whom you make things once, and size every piece by them.</p>
      )}
      <Actions>
        <Button variant="outlined" onClick={() => setOpen({ kind: 'head', name: '', measures: {} })}>
          New body
        </Button>
      </Actions>
    </>
  );
}
