import { jointsOf } from '@jasmorphe/contracts/reading/joints';
import { isPrinted } from '@jasmorphe/core/planning/printState';
import type { Stage } from '../Stage.ts';
import { lazyPart } from '../../app/Boundary.tsx';

export const finish: Stage = {
  id: 'finish',
  title: 'Finish',
  stand(body) {
    const { parts } = body;
    const joints = jointsOf(body);
    const done = joints.filter((j) => body.joined.includes(j.key)).length;
    if (done > 0)
      return {
        figure: `${done} of ${joints.length} joined`,
        state: done === joints.length ? 'done' : 'open',
      };
    const printed = parts.filter(isPrinted).length;
    return printed > 0 ? { figure: `${printed} to finish`, state: 'open' } : { figure: '—', state: 'later' };
  },
  Decision: lazyPart(async () => ({ default: (await import('./FinishDecision.tsx')).FinishDecision })),
  empty: 'Nothing to say before finishing.',
  tools: [],
  studies: [],
  parts: { apart: 0.6 },
};
