import type { Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import Button from '@mui/material/Button';
import { useEffect, useEffectEvent, useState } from 'react';
import { useStore } from 'react-redux';
import type { ReferenceView } from '@jasmorphe/contracts/views';
import { fromPairs, seenFromBody, turnsOf } from '@jasmorphe/core/worn/Placement';
import { useAppDispatch, type RootState } from '../../app/store.ts';
import { askForPoints, askOnBody, dropPoints, type PlacedBody } from '../../bench/benchSlice.ts';
import { ChoiceField } from '../../forms/Fields.tsx';

type Pair = { landmark: string; body: Vec3; piece: Vec3 };

/** stands for a point that is picked on the body itself */
const own = '(own)';

/** Lays a body on a model by points that belong together: its landmarks, or any point of it, with points of the model. */
export function LandmarkPairs({
  reference,
  mine,
  place,
}: {
  reference: ReferenceView;
  mine: PlacedBody;
  place: (next: Pick<PlacedBody, 'move' | 'turn'>) => void;
}) {
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const [landmark, setLandmark] = useState('');
  const [pairs, setPairs] = useState<Pair[]>([]);
  /** a point of the body that was picked on it, as the body sees it */
  const [ownPoint, setOwnPoint] = useState<Vec3 | null>(null);
  const asks = landmark !== '';
  // a point of one's own is picked on the body first, and then where it shall be on the model
  const onBody = landmark === own && ownPoint === null;
  useEffect(() => {
    dispatch(onBody ? askOnBody() : askForPoints(asks ? 1 : 0));
  }, [asks, onBody, dispatch]);
  useEffect(() => () => void dispatch(askForPoints(0)), [dispatch]);
  const take = useEffectEvent((point: Vec3) => {
    if (onBody) {
      setOwnPoint(seenFromBody({ moveMm: mine.move, turnDeg: mine.turn }, point));
      dispatch(dropPoints());
      return;
    }
    const at = landmark === own ? ownPoint : reference.landmarks[landmark];
    const name = landmark === own ? `point ${pairs.length + 1}` : landmark;
    if (at) setPairs((p) => [...p.filter((x) => x.landmark !== name), { landmark: name, body: at, piece: point }]);
    setLandmark('');
    setOwnPoint(null);
    dispatch(dropPoints());
  });
  useEffect(() => {
    if (!asks) return;
    return store.subscribe(() => {
      const [point] = store.getState().bench.points;
      if (point) take(point);
    });
  }, [asks, store]);
  const snap = () => {
    const { rows, moveMm } = fromPairs(pairs);
    place(
      pairs.length > 1
        ? { move: [...moveMm] as [number, number, number], turn: turnsOf(rows) }
        : { move: pairs[0].piece.map((p, k) => p - pairs[0].body[k]) as [number, number, number], turn: [0, 0, 0] },
    );
  };
  return (
    <>
      <ChoiceField
        label="Pair a landmark"
        value={landmark}
        onChange={setLandmark}
        choices={[
          { value: '', text: pairs.length > 0 ? `${pairs.length} paired` : 'none' },
          ...Object.keys(reference.landmarks).map((n) => ({ value: n, text: n })),
          { value: own, text: 'a point of the body …' },
        ]}
      />
      {asks && (
        <p className="lead">
          {onBody
            ? 'Click the point on the body: it is reached through the model.'
            : `Click where ${landmark === own ? 'that point' : `the ${landmark}`} shall be on the model.`}
        </p>
      )}
      {pairs.length > 0 && (
        <span>
          <Button variant="text" onClick={snap}>
            Lay {pairs.length} {pairs.length === 1 ? 'pair' : 'pairs'} on each other
          </Button>{' '}
          <Button variant="text" size="small" onClick={() => setPairs([])}>
            forget them
          </Button>
        </span>
      )}
    </>
  );
}
