import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import CloseIcon from '@mui/icons-material/Close';
import { acrossOf, grown } from '../../bench/boxes.ts';
import { Brushes } from '../../decision/Brushes.tsx';
import { LengthField } from '../../forms/Fields.tsx';
import type { Bare } from './useBare.ts';
import { usePickedPlace } from './usePickedPlace.ts';

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
        {bare.length > 0 && (
          <ul aria-label="Places kept bare">
            {bare.map((box, i) => (
              <li key={i}>
                <LengthField
                  label={`Kept bare, ${i + 1}`}
                  hint="across; no support stands in there"
                  mm={acrossOf(box)}
                  onChange={(mm) => mm !== null && mm > 0 && setBare(bare.map((b, k) => (k === i ? grown(b, mm) : b)))}
                />
                <IconButton
                  size="small"
                  aria-label={`Let support into place ${i + 1}`}
                  onClick={() => setBare(bare.filter((_, k) => k !== i))}
                >
                  <CloseIcon fontSize="inherit" />
                </IconButton>
              </li>
            ))}
          </ul>
        )}
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
