import Button from '@mui/material/Button';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { grown } from '../../bench/boxes.ts';
import { BoxList } from '../../decision/BoxList.tsx';
import { Brushes } from '../../decision/Brushes.tsx';
import { usePickedPlace } from '../../decision/usePickedPlace.ts';

/** How large a place that is picked is taken, as a share of the model's longest side. */
const usualShare = 0.12;

/** Places of the skin in which no seam shall show, picked or painted on the bench. */
export function KeptClean({
  boxes,
  painted,
  longestMm,
  onChange,
  onWiped,
}: {
  boxes: readonly CleanBox[];
  painted: readonly CleanSpot[];
  longestMm: number;
  onChange: (boxes: CleanBox[]) => void;
  /** all paint is to come off */
  onWiped: () => void;
}) {
  const pick = usePickedPlace('clean', (at) =>
    onChange([...boxes, grown({ min: at, max: at }, usualShare * longestMm)]),
  );
  return (
    <div className="keptClean">
      <BoxList
        boxes={boxes}
        words={{
          list: 'Places kept clean',
          one: 'Kept clean',
          hint: 'across; no seam shall show in there',
          drop: 'Let seams into place',
        }}
        onChange={onChange}
      />
      <Button variant="text" sx={{ alignSelf: 'flex-start' }} aria-pressed={pick.asking} onClick={pick.toggle}>
        {pick.asking ? 'Click the place on the model' : 'Keep a place clean'}
      </Button>
      <Brushes
        painted={painted}
        longestMm={longestMm}
        words={{ take: 'Paint skin clean', paints: 'skin that no seam shall cross' }}
        onWiped={onWiped}
      />
    </div>
  );
}
