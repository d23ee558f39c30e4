import { useEffect } from 'react';
import type { CleanBox } from '@jasmorphe/core/planning/cuts/CleanBox';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { useAppDispatch } from '../../app/store.ts';
import { setMarks } from '../../bench/benchSlice.ts';
import { fullMesh } from '../../worker/fullMesh.ts';
import { edgesOfBox } from '../../bench/boxes.ts';

/** Draws the seams of cuts on the bench for as long as they are looked at. */
export function useSeams(hash: string, cuts: readonly PlaneCut[] | null, boxes: readonly CleanBox[]): void {
  const dispatch = useAppDispatch();
  const key = cuts ? JSON.stringify(cuts) : '';
  const clean = JSON.stringify(boxes.map(edgesOfBox));
  useEffect(() => {
    const kept = JSON.parse(clean) as number[][];
    if (key === '') {
      dispatch(setMarks(kept));
      return () => void dispatch(setMarks([]));
    }
    let live = true;
    void fullMesh()
      .seams(hash, JSON.parse(key) as PlaneCut[])
      .then((lines) => live && void dispatch(setMarks([...lines, ...kept])))
      .catch(() => undefined);
    return () => {
      live = false;
      dispatch(setMarks([]));
    };
  }, [hash, key, clean, dispatch]);
}
