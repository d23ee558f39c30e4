import { Offers } from '../../ui/Offers.tsx';
import type { LookProps } from './BackToSize.tsx';
import { BodyDecision } from './BodyDecision.tsx';
import { looks, type LookId } from './looks.ts';
import { PlacesDecision } from './PlacesDecision.tsx';
import { SampleDecision } from './SampleDecision.tsx';
import { WallsDecision } from './WallsDecision.tsx';

const decisions = { body: BodyDecision, walls: WallsDecision, places: PlacesDecision, sample: SampleDecision };

export function LookDecision({ look, ...props }: LookProps & { look: LookId }) {
  const Look = decisions[look];
  return <Look {...props} />;
}

/** Ways to look at what a size means. */
export function LookList({ looks: ids, onOpen }: { looks: readonly LookId[]; onOpen: (id: LookId) => void }) {
  return (
    <Offers
      head="What the size means"
      offers={ids.map((id) => ({ id, name: looks[id].name, summary: looks[id].summary, testId: `look-${id}` }))}
      onOpen={onOpen}
    />
  );
}
