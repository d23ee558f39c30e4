import { stateOfStep, stepOfStage, type Stage } from '../Stage.ts';
import { toolIds } from '../../tools/tools.ts';
import { IntakeDecision } from './IntakeDecision.tsx';

export const intake: Stage = {
  id: 'intake',
  title: 'Intake',
  stand: (body) => ({ figure: body.sourceName, state: stateOfStep(stepOfStage(body, 'intake')) }),
  Decision: IntakeDecision,
  fresh: true,
  empty: 'Nothing stands out in the file.',
  tools: toolIds,
  studies: [],
};
