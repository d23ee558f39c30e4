import { isPrinted, isStopped } from '@jasmorphe/core/planning/printState';
import type { Stage } from '../Stage.ts';
import { partInHand } from './partInHand.ts';
import { lazyPart } from '../../app/Boundary.tsx';

export const print: Stage = {
  id: 'print',
  title: 'Print',
  stand({ parts }) {
    if (parts.length === 0) return { figure: '—', state: 'later' };
    const printed = parts.filter(isPrinted).length;
    const state = parts.some(isStopped) ? 'attention' : printed === parts.length ? 'done' : 'open';
    return { figure: `${printed} of ${parts.length} printed`, state };
  },
  Decision: lazyPart(async () => ({ default: (await import('./PrintDecision.tsx')).PrintDecision })),
  empty: 'Every print so far went well.',
  tools: [],
  studies: [],
  parts: { inHand: partInHand, saysPrints: true },
};
