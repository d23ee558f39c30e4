import type { Stage } from '../Stage.ts';
import { FinishDecision } from './FinishDecision.tsx';

export const finish: Stage = {
  id: 'finish',
  title: 'Finish',
  stand({ parts }) {
    const printed = parts.filter((p) => p.state === 'printed').length;
    return printed > 0 ? { figure: `${printed} to finish`, state: 'open' } : { figure: '—', state: 'later' };
  },
  Decision: FinishDecision,
  empty: 'Nothing to say before finishing.',
  tools: [],
  studies: [],
  showsParts: true,
};
