import { BoxesAndPaint } from '../../decision/BoxesAndPaint.tsx';
import type { Bare } from './useBare.ts';
import { Block } from '../../ui/layout.ts';

/** Places in which no support may stand, picked on the part, and skin that nobody looks at, painted on it. */
export const BareAndHidden = ({ longestMm, of }: { longestMm: number; of: Bare }) => (
  <Block aria-label="Kept bare">
    <div className="label">Kept bare, and unseen</div>
    <BoxesAndPaint
      asks="bare"
      boxes={of.bare}
      painted={of.hidden}
      longestMm={longestMm}
      share={0.2}
      words={{
        boxes: {
          list: 'Places kept bare',
          one: 'Kept bare',
          hint: 'across; no support stands in there',
          drop: 'Let support into place',
        },
        pick: { start: 'Keep a place bare of support', asking: 'Click the place on the part' },
        paint: { take: 'Paint skin that nobody sees', paints: 'skin on which marks and steps do not matter' },
      }}
      onChange={of.setBare}
      onWiped={() => of.setHidden([])}
    />
  </Block>
);
