import { useEffect } from 'react';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { askForPoints } from '../../bench/benchSlice.ts';

type Point = [number, number, number];

/** A point picked on the part, once it is asked for. */
export function usePickedFace(onPick: (at: Point) => void): { asking: boolean; toggle: () => void } {
  const dispatch = useAppDispatch();
  const asking = useAppSelector((s) => s.bench.asks > 0);
  const points = useAppSelector((s) => s.bench.points);
  useEffect(() => {
    if (!asking || points.length === 0) return;
    onPick(points[0]);
    dispatch(askForPoints(0));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- told once for each point
  }, [points]);
  useEffect(() => () => void dispatch(askForPoints(0)), [dispatch]);
  return {
    asking,
    toggle: () => void dispatch(askForPoints(asking ? 0 : 1)),
  };
}
