import type { LookProps } from './BackToSize.tsx';
import { BodyDecision } from './BodyDecision.tsx';
import { lookIds, looks, type LookId } from './looks.ts';
import { PlacesDecision } from './PlacesDecision.tsx';
import { SampleDecision } from './SampleDecision.tsx';
import { WallsDecision } from './WallsDecision.tsx';

const decisions = { body: BodyDecision, walls: WallsDecision, places: PlacesDecision, sample: SampleDecision };

export function LookDecision({ look, ...props }: LookProps & { look: LookId }) {
  const Look = decisions[look];
  return <Look {...props} />;
}

/** Ways to look at what a size means. */
export function LookList({ onOpen }: { onOpen: (id: LookId) => void }) {
  return (
    <nav className="toolList" aria-label="What the size means">
      <div className="label">What the size means</div>
      {lookIds.map((id) => (
        <button key={id} type="button" onClick={() => onOpen(id)} data-testid={`look-${id}`}>
          <b>{looks[id].name}</b>
          <span>{looks[id].summary}</span>
        </button>
      ))}
    </nav>
  );
}
