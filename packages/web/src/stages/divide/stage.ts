import { isStepOf } from '@jasmorphe/contracts/steps';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { countOf } from '@jasmorphe/core/words/numbers';
import { stateOfStep, stepOfStage, type Stage } from '../Stage.ts';
import { lazyPart } from '../../app/Boundary.tsx';

export const divide: Stage = {
  id: 'divide',
  title: 'Divide',
  stand(body) {
    const own = stepOfStage(body, 'divide');
    const parts = own && isStepOf(own.step, catalogue.divide) ? own.step.report.parts.length : null;
    return { figure: parts === null ? 'whole' : countOf(parts, 'part'), state: stateOfStep(own) };
  },
  Decision: lazyPart(async () => ({ default: (await import('./DivideDecision.tsx')).DivideDecision })),
  fresh: true,
  empty: 'Nothing stands in the way of cutting.',
  tools: [],
  studies: [],
  parts: { apart: 0.5, wholeWhileAsked: true },
};
