import { useEffect } from 'react';
import type { PartView } from '@jasmorphe/contracts/views';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { pickPart } from '../bench/benchSlice.ts';

/** The part that a stop is about: it is picked on the bench and in the table, too, as long as no other is. */
export function useHeldPart(choose: (picked: string | null) => PartView | undefined): PartView | undefined {
  const dispatch = useAppDispatch();
  const picked = useAppSelector((s) => s.bench.partId);
  const part = choose(picked);
  const inHand = part?.id;
  useEffect(() => {
    if (!picked && inHand) dispatch(pickPart(inHand));
  }, [inHand, picked, dispatch]);
  return part;
}
