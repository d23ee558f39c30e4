import { useEffect } from 'react';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { ParamsOf } from '@jasmorphe/core/operations/catalogue';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { useAppDispatch } from '../../app/store.ts';
import { setMarks } from '../../bench/benchSlice.ts';
import { edgesOfBox } from '../../bench/boxes.ts';
import { usePainted } from '../../decision/usePainted.ts';
import { useDraft } from '../useDraft.ts';

/** Where no support may stand, and skin that nobody looks at, as they are drawn on the bench. */
export interface Bare {
  bare: readonly CleanBox[];
  hidden: readonly CleanSpot[];
  setBare: (boxes: readonly CleanBox[]) => void;
  setHidden: (spots: readonly CleanSpot[]) => void;
  /** what a pose is asked with */
  params: Pick<Partial<ParamsOf<'pose'>>, 'bare' | 'hidden'>;
  /** the pose that was taken was found with the same */
  asTaken: boolean;
}

/**
 * Boxes kept bare and painted skin of a part, beginning with those of the pose that was taken. What was changed outlives a
 * look at another part or stop, until it is taken.
 *
 * @param drafts by what they are known: the part and its mesh
 */
export function useBare(drafts: string, taken: StepOf<'pose'> | undefined): Bare {
  const dispatch = useAppDispatch();
  const before = { bare: taken?.params.bare ?? [], hidden: taken?.params.hidden ?? [] };
  const [ownBare, setBare] = useDraft<readonly CleanBox[]>(`${drafts} bare`);
  const [ownHidden, setHidden] = useDraft<readonly CleanSpot[]>(`${drafts} hidden`);
  const bare = ownBare ?? before.bare;
  const hidden = ownHidden ?? before.hidden;
  const asTaken = JSON.stringify({ bare, hidden }) === JSON.stringify(before);
  useEffect(() => {
    if (!asTaken) return;
    if (ownBare) setBare(null);
    if (ownHidden) setHidden(null);
  }, [asTaken, ownBare, ownHidden, setBare, setHidden]);
  usePainted(hidden, setHidden);
  const key = JSON.stringify(bare);
  useEffect(() => {
    dispatch(setMarks((JSON.parse(key) as CleanBox[]).map(edgesOfBox)));
    return () => void dispatch(setMarks([]));
  }, [key, dispatch]);
  return {
    bare,
    hidden,
    setBare,
    setHidden,
    params: {
      ...(bare.length > 0 ? { bare: [...bare] } : {}),
      ...(hidden.length > 0 ? { hidden: [...hidden] } : {}),
    },
    asTaken,
  };
}
