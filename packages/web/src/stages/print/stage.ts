import type { Stage } from '../Stage.ts';
import { lazyPart } from '../../app/Boundary.tsx';

export const print: Stage = {
  id: 'print',
  title: 'Print',
  stand({ parts }) {
    if (parts.length === 0) return { figure: '—', state: 'later' };
    const printed = parts.filter((p) => p.state === 'printed').length;
    const state = parts.some((p) => p.state === 'failed') ? 'attention' : printed === parts.length ? 'done' : 'open';
    return { figure: `${printed} of ${parts.length} printed`, state };
  },
  Decision: lazyPart(async () => ({ default: (await import('./PrintDecision.tsx')).PrintDecision })),
  empty: 'Every print so far went well.',
  tools: [],
  studies: [],
  showsParts: true,
};
