import { useEffect, useEffectEvent, useRef } from 'react';
import type { CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { holdBrush, showPainted } from '../bench/benchSlice.ts';

/** Shows painted skin on the bench, and tells of what was painted there, stroke by stroke. */
export function usePainted(painted: readonly CleanSpot[], onChange: (painted: CleanSpot[]) => void): void {
  const dispatch = useAppDispatch();
  const shown = useAppSelector((s) => s.bench.painted);
  const strokes = useAppSelector((s) => s.bench.strokes);
  const key = JSON.stringify(painted);
  useEffect(() => void dispatch(showPainted(JSON.parse(key) as CleanSpot[])), [key, dispatch]);
  const taken = useRef(strokes);
  /** what was painted is taken when a stroke is done */
  const take = useEffectEvent(() => {
    if (JSON.stringify(shown) !== key) onChange(shown);
  });
  useEffect(() => {
    // strokes that were done before this card was there are no change of it
    if (taken.current === strokes) return;
    taken.current = strokes;
    take();
  }, [strokes]);
  useEffect(
    () => () => {
      dispatch(holdBrush(null));
      dispatch(showPainted([]));
    },
    [dispatch],
  );
}
