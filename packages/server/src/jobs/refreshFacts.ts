import { log } from '../log.ts';
import type { ComputePort } from '../compute/ComputePort.ts';
import type { Library } from '../store/Library.ts';
import type { Teller } from '../store/Teller.ts';

/**
 * Looks once more at meshes that an earlier version of inspecting looked at, or another computer, one after another, behind all
 * other work. What cannot be read stays as it is: the doctor knows of it. Ends early once `ended` says so.
 */
export async function refreshFacts(
  library: Library,
  compute: ComputePort,
  events: Teller,
  ended: () => boolean,
): Promise<void> {
  let done = 0;
  for (const hash of await library.meshes.outdated()) {
    if (ended()) break;
    try {
      await library.meshes.keepFacts(hash, await compute.run({ kind: 'inspect', hash }).result);
      done++;
    } catch (error) {
      if (ended()) break;
      log.warn(`What is known of mesh ${hash.slice(0, 12)} stays as it is: ${(error as Error).message}`);
    }
  }
  // whoever looks at a body sees what was found
  if (done > 0 && !ended())
    for (const { id: bodyId, projectId } of await library.views.allModels())
      events.send({ type: 'body', bodyId, projectId });
}
