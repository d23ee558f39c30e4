import { whole } from '@jasmorphe/core/words/numbers';
import type { Stage } from '../Stage.ts';
import { lazyPart } from '../../app/Boundary.tsx';

export const layout: Stage = {
  id: 'layout',
  title: 'Lay out',
  stand: ({ parts }) =>
    parts.length > 0 ? { figure: `${whole(parts.length)} to lay out`, state: 'open' } : { figure: '—', state: 'later' },
  Decision: lazyPart(async () => ({ default: (await import('./LayoutDecision.tsx')).LayoutDecision })),
  empty: 'Nothing to say of the parts.',
  tools: [],
  studies: [],
  showsParts: true,
};
