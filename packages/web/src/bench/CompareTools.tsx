import { useEffect } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { Toggles, type ToggleChoice } from '../ui/Toggles.tsx';
import { compare, type CompareMode } from './benchSlice.ts';

const modes: ToggleChoice<CompareMode>[] = [
  { value: 'before', text: 'Old', says: 'the skin as it was' },
  { value: 'after', text: 'New', says: 'the skin as it will be' },
  { value: 'swipe', text: 'Swipe', says: 'old to the left, new to the right' },
  { value: 'map', text: 'Moved', says: 'how far the new skin lies from the old one' },
  {
    value: 'lost',
    text: 'Lost',
    says: 'how far the old skin lies from the new one: what was dropped or buried stands out',
  },
];

/** Which of the two skins the bench shows, or how far apart they are. */
export function CompareTools({ before, after }: { before: string; after: string }) {
  const dispatch = useAppDispatch();
  const comparison = useAppSelector((s) => s.bench.comparison);
  const mine = comparison?.before === before && comparison.after === after ? comparison : null;
  useEffect(() => {
    // another answer was chosen: keep looking the same way at it
    if (comparison && !mine) dispatch(compare({ before, after, mode: comparison.mode }));
  }, [comparison, mine, before, after, dispatch]);
  useEffect(() => () => void dispatch(compare(null)), [dispatch]);
  return (
    <Toggles
      label="Look at"
      head="On the bench"
      choices={modes}
      on={mine ? [mine.mode] : []}
      onToggle={(mode, on) => dispatch(compare(on ? { before, after, mode } : null))}
    />
  );
}
