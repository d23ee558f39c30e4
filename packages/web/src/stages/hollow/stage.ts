import { isStepOf } from '@jasmorphe/contracts/steps';
import { cavitiesOf } from '@jasmorphe/core/inspect/Inspection';
import { countOf } from '@jasmorphe/core/words/numbers';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { stateOfStep, stepOfStage, type Stage } from '../Stage.ts';
import { HollowDecision } from './HollowDecision.tsx';

export const hollow: Stage = {
  id: 'hollow',
  title: 'Hollow',
  stand(body, length) {
    const own = stepOfStage(body, 'hollow');
    const wall = own && isStepOf(own.step, catalogue.hollow) ? own.step.params.wall : null;
    const { count } = cavitiesOf(body.mesh.facts);
    const as = count > 0 ? `${countOf(count, 'hollow')} in it` : 'solid';
    return { figure: wall === null ? as : `wall ${length(wall)}`, state: stateOfStep(own) };
  },
  Decision: HollowDecision,
  fresh: true,
  empty: 'Nothing stands in the way of hollowing.',
  tools: [],
  studies: [],
};
