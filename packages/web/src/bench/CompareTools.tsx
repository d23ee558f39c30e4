import { useEffect } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { compare, type CompareMode } from './benchSlice.ts';

export const modes: { mode: CompareMode; text: string; says: string }[] = [
  { mode: 'before', text: 'Old', says: 'the skin as it was' },
  { mode: 'after', text: 'New', says: 'the skin as it will be' },
  { mode: 'swipe', text: 'Swipe', says: 'old to the left, new to the right' },
  { mode: 'map', text: 'Moved', says: 'how far the new skin lies from the old one' },
  {
    mode: 'lost',
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
    <div className="compareTools" role="group" aria-label="Look at">
      <span className="label">On the bench</span>
      {modes.map(({ mode, text, says }) => (
        <button
          key={mode}
          type="button"
          className={`plain${mine?.mode === mode ? ' on' : ''}`}
          aria-pressed={mine?.mode === mode}
          title={says}
          onClick={() => dispatch(compare(mine?.mode === mode ? null : { before, after, mode }))}
        >
          {text}
        </button>
      ))}
    </div>
  );
}
