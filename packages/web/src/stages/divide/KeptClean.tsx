import Button from '@mui/material/Button';
import { useEffect } from 'react';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { askForPlace, askForPoints, holdBrush } from '../../bench/benchSlice.ts';
import { grown } from '../../bench/boxes.ts';
import { BoxList } from '../../decision/BoxList.tsx';
import { Brushes } from '../../decision/Brushes.tsx';

/** How large a place that is picked is taken, as a share of the model's longest side. */
const usualShare = 0.12;

/** Places of the skin in which no seam shall show, picked or painted on the bench. */
export function KeptClean({
  boxes,
  painted,
  longestMm,
  onChange,
  onWiped,
}: {
  boxes: readonly CleanBox[];
  painted: readonly CleanSpot[];
  longestMm: number;
  onChange: (boxes: CleanBox[]) => void;
  /** all paint is to come off */
  onWiped: () => void;
}) {
  const dispatch = useAppDispatch();
  const points = useAppSelector((s) => s.bench.points);
  const asking = useAppSelector((s) => s.bench.purpose === 'clean');
  useEffect(() => {
    if (!asking || points.length === 0) return;
    const [x, y, z] = points[0];
    dispatch(askForPoints(0));
    onChange([...boxes, grown({ min: [x, y, z], max: [x, y, z] }, usualShare * longestMm)]);
    // a place is taken once, when it is picked
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [points]);
  useEffect(() => () => void dispatch(askForPoints(0)), [dispatch]);
  return (
    <div className="keptClean">
      <BoxList
        boxes={boxes}
        words={{
          list: 'Places kept clean',
          one: 'Kept clean',
          hint: 'across; no seam shall show in there',
          drop: 'Let seams into place',
        }}
        onChange={onChange}
      />
      <Button
        variant="text"
        sx={{ alignSelf: 'flex-start' }}
        aria-pressed={asking}
        onClick={() => {
          dispatch(holdBrush(null));
          dispatch(asking ? askForPoints(0) : askForPlace('clean'));
        }}
      >
        {asking ? 'Click the place on the model' : 'Keep a place clean'}
      </Button>
      <Brushes
        painted={painted}
        longestMm={longestMm}
        words={{ take: 'Paint skin clean', paints: 'skin that no seam shall cross' }}
        onWiped={onWiped}
      />
    </div>
  );
}
