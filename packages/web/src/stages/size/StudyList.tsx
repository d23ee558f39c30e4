import { Offers } from '../../ui/Offers.tsx';
import { studies, type StudyId } from './studies.ts';

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
