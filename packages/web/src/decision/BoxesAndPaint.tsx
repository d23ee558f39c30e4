import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import type { CleanBox, CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { grown } from '../bench/boxes.ts';
import { BoxList } from './BoxList.tsx';
import { Brushes } from './Brushes.tsx';
import { usePickedPlace } from './usePickedPlace.ts';

/** Places that are clicked on the bench, each a box with its size, and skin that is painted there. */
export function BoxesAndPaint({
  asks,
  boxes,
  painted,
  longestMm,
  share,
  words: { boxes: ofBoxes, pick: ofPick, paint },
  onChange,
  onWiped,
}: {
  /** what the bench is asked for a place for */
  asks: Parameters<typeof usePickedPlace>[0];
  boxes: readonly CleanBox[];
  painted: readonly CleanSpot[];
  /** of what stands on the bench, mm */
  longestMm: number;
  /** how large a place that is picked is taken, as a share of that */
  share: number;
  words: {
    boxes: Parameters<typeof BoxList>[0]['words'];
    pick: { start: string; asking: string };
    paint: Parameters<typeof Brushes>[0]['words'];
  };
  onChange: (boxes: CleanBox[]) => void;
  /** all paint is to come off */
  onWiped: () => void;
}) {
  const pick = usePickedPlace(asks, (at) => onChange([...boxes, grown({ min: at, max: at }, share * longestMm)]));
  return (
    <Stack sx={{ width: '100%' }}>
      <BoxList boxes={boxes} words={ofBoxes} onChange={onChange} />
      <Button variant="text" sx={{ alignSelf: 'flex-start' }} aria-pressed={pick.asking} onClick={pick.toggle}>
        {pick.asking ? ofPick.asking : ofPick.start}
      </Button>
      <Brushes painted={painted} longestMm={longestMm} words={paint} onWiped={onWiped} />
    </Stack>
  );
}
