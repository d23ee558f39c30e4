import { descriptionOf } from '@jasmorphe/core/operations/catalogue';
import { Offers } from '../ui/Offers.tsx';
import { toolOf, type ToolId } from './tools.ts';

/** The tools that may be of use at this stop. */
export function ToolList({ tools, onOpen }: { tools: readonly ToolId[]; onOpen: (id: ToolId) => void }) {
  return (
    <Offers
      head="Also here"
      offers={tools.map((id) => ({
        id,
        name: descriptionOf(id).words.title,
        summary: toolOf(id).summary,
        testId: `tool-${id}`,
      }))}
      onOpen={onOpen}
    />
  );
}
