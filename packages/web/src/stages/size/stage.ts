import { longestOf } from '@jasmorphe/core/inspect/stageFinding';
import { stateOfStep, stepOfStage, type Stage } from '../Stage.ts';
import { toolIds } from '../../tools/tools.ts';
import { SizeDecision } from './SizeDecision.tsx';

export const size: Stage = {
  id: 'size',
  title: 'Size',
  stand: (body, length) => ({
    figure: length(longestOf(body.mesh.facts.size)),
    state: stateOfStep(stepOfStage(body, 'size')),
  }),
  Decision: SizeDecision,
  fresh: true,
  empty: 'Nothing at this size needs a word.',
  tools: toolIds,
  studies: ['body', 'walls', 'places', 'sample'],
};
