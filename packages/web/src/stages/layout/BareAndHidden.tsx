import Button from '@mui/material/Button';
import { grown } from '../../bench/boxes.ts';
import { BoxList } from '../../decision/BoxList.tsx';
import { Brushes } from '../../decision/Brushes.tsx';
import type { Bare } from './useBare.ts';
import { usePickedPlace } from '../../decision/usePickedPlace.ts';

/** How large a place that is picked is taken, as a share of the part's longest side. */
const usualShare = 0.2;

/** Places in which no support may stand, picked on the part, and skin that nobody looks at, painted on it. */
export function BareAndHidden({ longestMm, of }: { longestMm: number; of: Bare }) {
  const { bare, hidden, setBare, setHidden } = of;
  const pick = usePickedPlace('bare', (at) => setBare([...bare, grown({ min: at, max: at }, usualShare * longestMm)]));
  return (
    <section className="tipsOfPart" aria-label="Kept bare">
      <div className="label">Kept bare, and unseen</div>
      <div className="keptClean">
        <BoxList
          boxes={bare}
          words={{
            list: 'Places kept bare',
            one: 'Kept bare',
            hint: 'across; no support stands in there',
            drop: 'Let support into place',
          }}
          onChange={setBare}
        />
        <Button variant="text" sx={{ alignSelf: 'flex-start' }} aria-pressed={pick.asking} onClick={pick.toggle}>
          {pick.asking ? 'Click the place on the part' : 'Keep a place bare of support'}
        </Button>
        <Brushes
          painted={hidden}
          longestMm={longestMm}
          words={{ take: 'Paint skin that nobody sees', paints: 'skin on which marks and steps do not matter' }}
          onWiped={() => setHidden([])}
        />
      </div>
    </section>
  );
}
