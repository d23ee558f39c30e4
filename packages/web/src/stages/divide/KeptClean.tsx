import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { BoxesAndPaint } from '../../decision/BoxesAndPaint.tsx';

/** Places of the skin in which no seam shall show, picked or painted on the bench. */
export const KeptClean = (of: {
  boxes: readonly CleanBox[];
  painted: readonly CleanSpot[];
  longestMm: number;
  onChange: (boxes: CleanBox[]) => void;
  /** all paint is to come off */
  onWiped: () => void;
}) => (
  <BoxesAndPaint
    {...of}
    asks="clean"
    share={0.12}
    words={{
      boxes: {
        list: 'Places kept clean',
        one: 'Kept clean',
        hint: 'across; no seam shall show in there',
        drop: 'Let seams into place',
      },
      pick: { start: 'Keep a place clean', asking: 'Click the place on the model' },
      paint: { take: 'Paint skin clean', paints: 'skin that no seam shall cross' },
    }}
  />
);
