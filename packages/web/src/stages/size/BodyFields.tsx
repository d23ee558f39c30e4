import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import Button from '@mui/material/Button';
import type { BodyView, ReferenceView } from '@jasmorphe/contracts/views';
import { axes } from '@jasmorphe/core/mesh/axes';
import { mmPerUnit } from '@jasmorphe/core/formats/units';
import { useAppSelector } from '../../app/store.ts';
import { useChangeReferenceMutation, useRemoveReferenceMutation } from '../../app/api.ts';
import type { PlacedBody } from '../../bench/benchSlice.ts';
import { ChoiceField, LengthField, NumberField } from '../../forms/Fields.tsx';
import { LandmarkPairs } from './LandmarkPairs.tsx';

type Placed = Pick<PlacedBody, 'move' | 'turn'>;

/** To a hundredth of a millimetre or degree, as the handles leave it. */
const tidied = (x: number): number => Math.round(100 * x) / 100;

/** Where a body stands and how it is turned, by numbers. */
function PlaceFields({ mine, place }: { mine: PlacedBody; place: (next: Partial<Placed>) => void }) {
  const unit = useAppSelector((s) => s.ui.unit);
  const part = (what: keyof Placed, k: number, v: number | null) => {
    if (v !== null) place({ [what]: mine[what].map((old, i) => (i === k ? v : old)) as Triple });
  };
  return (
    <>
      {axes.map((axis, k) => (
        <NumberField
          key={`move${axis}`}
          label={`Stands at ${axis}, ${unit}`}
          value={tidied(mine.move[k] / mmPerUnit[unit])}
          onChange={(v) => part('move', k, v === null ? null : v * mmPerUnit[unit])}
          example="a number such as -12.5"
        />
      ))}
      {axes.map((axis, k) => (
        <NumberField
          key={`turn${axis}`}
          label={`Turned about ${axis}, °`}
          value={tidied(mine.turn[k])}
          refused={Math.abs(mine.turn[k]) <= 360 ? null : 'degrees from -360 to 360'}
          onChange={(v) => part('turn', k, v)}
          example="degrees from -360 to 360"
        />
      ))}
    </>
  );
}

/** Which body, with how much lining and room, and where it stands. */
export function BodyFields({
  body,
  reference,
  mine,
  place,
  onPick,
  settling,
  letSettle,
}: {
  body: BodyView;
  reference: ReferenceView;
  mine: PlacedBody | null;
  place: (next: Partial<Placed>) => void;
  /** null for another body that is yet to be made */
  onPick: (id: string | null) => void;
  settling: boolean;
  letSettle: () => void;
}) {
  const [change] = useChangeReferenceMutation();
  const [remove] = useRemoveReferenceMutation();
  const own = { id: reference.id, bodyId: body.id };
  return (
    <>
      <ChoiceField
        label="Body"
        value={reference.id}
        onChange={(id) => onPick(id === 'new' ? null : id)}
        choices={[
          ...body.references.map((r) => ({ value: r.id, text: r.name })),
          { value: 'new', text: 'another body …' },
        ]}
      />
      <LengthField
        label="Lining"
        mm={reference.liningMm || null}
        onChange={(v) => void change({ ...own, liningMm: v ?? 0 })}
        optional
      />
      <LengthField
        label="Room wanted beyond it"
        mm={reference.wantMm || null}
        onChange={(v) => void change({ ...own, wantMm: v ?? 0 })}
        optional
      />
      {mine && <PlaceFields mine={mine} place={place} />}
      <Button variant="text" disabled={settling} onClick={letSettle}>
        {settling ? 'Settling it in …' : 'Let it settle in'}
      </Button>
      {mine && <LandmarkPairs key={reference.id} reference={reference} mine={mine} place={place} />}
      <Button variant="text" onClick={() => void remove(own)}>
        Take this body away
      </Button>
    </>
  );
}
