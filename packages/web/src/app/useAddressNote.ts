import { useEffect } from 'react';
import { useAppDispatch } from './store.ts';
import { say } from './uiSlice.ts';

/**
 * Says what the address asks for and is not there, since something else is shown in its place.
 *
 * @param text null where all of it is there, or nobody knows yet
 */
export function useAddressNote(text: string | null): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    if (text !== null) dispatch(say({ text, hint: 'It may have been renamed or removed.', tone: 'note' }));
  }, [text, dispatch]);
}
