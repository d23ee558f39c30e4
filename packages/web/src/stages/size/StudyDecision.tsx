import type { StudyProps } from './BackToSize.tsx';
import { BodyDecision } from './BodyDecision.tsx';
import type { StudyId } from './studies.ts';
import { PlacesDecision } from './PlacesDecision.tsx';
import { SampleDecision } from './SampleDecision.tsx';
import { WallsDecision } from './WallsDecision.tsx';

const decisions = { body: BodyDecision, walls: WallsDecision, places: PlacesDecision, sample: SampleDecision };

/** A way to look at what a size means, once it is opened. */
export default function StudyDecision({ study, ...props }: StudyProps & { study: StudyId }) {
  const Study = decisions[study];
  return <Study {...props} />;
}
