import { isStepOf } from '@jasmorphe/contracts/steps';
import { isSound, type Inspection } from '@jasmorphe/core/inspect/Inspection';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { whole } from '@jasmorphe/core/words/numbers';
import { stepOfStage, type Stage } from '../Stage.ts';
import { toolIds } from '../../tools/tools.ts';
import { MendDecision } from './MendDecision.tsx';

/** The worst that is wrong with a skin. */
function worstOf({ openLoops, openEdges, selfIntersectingPairs }: Inspection): string {
  if (openLoops > 0) return `${whole(openLoops)} open loops`;
  const crossings = selfIntersectingPairs ?? 0;
  return crossings > 0 ? `${whole(crossings)} crossings` : `${whole(openEdges)} open edges`;
}

export const mend: Stage = {
  id: 'mend',
  title: 'Mend',
  stand(body) {
    const own = stepOfStage(body, 'mend');
    if (own?.inForce && isStepOf(own.step, catalogue.mend)) {
      const { after, sound } = own.step.report;
      return { figure: `${whole(after.openEdges)} open edges`, state: sound ? 'done' : 'attention' };
    }
    const { facts } = body.mesh;
    return { figure: worstOf(facts), state: own ? 'stale' : isSound(facts) ? 'done' : 'attention' };
  },
  Decision: MendDecision,
  fresh: true,
  empty: 'Nothing is wrong: no open edge, no crossing, one way round.',
  tools: toolIds,
  studies: [],
};
