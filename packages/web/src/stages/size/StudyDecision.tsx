import { Offers } from '../../ui/Offers.tsx';
import type { StudyProps } from './BackToSize.tsx';
import { BodyDecision } from './BodyDecision.tsx';
import { studies, type StudyId } from './studies.ts';
import { PlacesDecision } from './PlacesDecision.tsx';
import { SampleDecision } from './SampleDecision.tsx';
import { WallsDecision } from './WallsDecision.tsx';

const decisions = { body: BodyDecision, walls: WallsDecision, places: PlacesDecision, sample: SampleDecision };

export function StudyDecision({ study, ...props }: StudyProps & { study: StudyId }) {
  const Study = decisions[study];
  return <Study {...props} />;
}

/** Ways to look at what a size means. */
export function StudyList({ studies: ids, onOpen }: { studies: readonly StudyId[]; onOpen: (id: StudyId) => void }) {
  return (
    <Offers
      head="What the size means"
      offers={ids.map((id) => ({ id, name: studies[id].name, summary: studies[id].summary, testId: `study-${id}` }))}
      onOpen={onOpen}
    />
  );
}
