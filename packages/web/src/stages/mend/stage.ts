import { isStepOf } from '@jasmorphe/contracts/steps';
import { isSound, type Inspection } from '@jasmorphe/core/inspect/Inspection';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { countOf } from '@jasmorphe/core/words/numbers';
import { pairsText } from '@jasmorphe/core/mesh/crossingCount';
import { stepOfStage, type Stage } from '../Stage.ts';
import { toolIds } from '../../tools/tools.ts';
import { MendDecision } from './MendDecision.tsx';

/** The worst that is wrong with a skin. */
function worstOf({ openLoops, openEdges, selfIntersectingPairs }: Inspection): string {
  if (openLoops > 0) return countOf(openLoops, 'open loop');
  const crossings = selfIntersectingPairs ?? 0;
  if (crossings === 0) return countOf(openEdges, 'open edge');
  return crossings === 1 ? '1 crossing' : `${pairsText(crossings)} crossings`;
}

export const mend: Stage = {
  id: 'mend',
  title: 'Mend',
  stand(body) {
    const own = stepOfStage(body, 'mend');
    if (own?.inForce && isStepOf(own.step, catalogue.mend)) {
      const { after, sound } = own.step.report;
      return { figure: countOf(after.openEdges, 'open edge'), state: sound ? 'done' : 'attention' };
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
