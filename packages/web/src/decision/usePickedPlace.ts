import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useEffect, useEffectEvent } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { askForPlace, askForPoints, holdBrush, type BenchState } from '../bench/benchSlice.ts';

/** A place of the model picked for one purpose, once it is asked for. */
export function usePickedPlace(
  purpose: Exclude<BenchState['purpose'], ''>,
  onPick: (at: Triple) => void,
): { asking: boolean; toggle: () => void } {
  const dispatch = useAppDispatch();
  const asking = useAppSelector((s) => s.bench.asks > 0 && s.bench.purpose === purpose);
  const points = useAppSelector((s) => s.bench.points);
  const told = useEffectEvent(onPick);
  useEffect(() => {
    if (!asking || points.length === 0) return;
    told(points[0]);
    dispatch(askForPoints(0));
  }, [asking, points, dispatch]);
  useEffect(() => () => void dispatch(askForPoints(0)), [dispatch]);
  return {
    asking,
    toggle: () => {
      dispatch(holdBrush(null));
      dispatch(asking ? askForPoints(0) : askForPlace(purpose));
    },
  };
}
