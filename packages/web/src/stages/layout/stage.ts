import { secondsText, whole } from '@jasmorphe/core/words/numbers';
import { isToPrint } from '@jasmorphe/core/planning/printState';
import { lazyPart } from '../../app/Boundary.tsx';
import type { Stage } from '../Stage.ts';
import { partToLay } from './partToLay.ts';

export const layout: Stage = {
  id: 'layout',
  title: 'Lay out',
  stand({ parts }) {
    if (parts.length === 0) return { figure: '—', state: 'later' };
    // what is printed or set aside needs no place on a bed any more
    const open = parts.filter((p) => p.posed === null && isToPrint(p)).length;
    const hours = parts.reduce((s, p) => s + (p.posed?.durationS ?? 0), 0);
    if (open > 0) return { figure: `${whole(parts.length - open)} of ${whole(parts.length)} laid`, state: 'open' };
    return { figure: hours > 0 ? `laid, ${secondsText(hours)}` : 'laid', state: 'done' };
  },
  Decision: lazyPart(async () => ({ default: (await import('./LayoutDecision.tsx')).LayoutDecision })),
  empty: 'Nothing to say of how the parts lie.',
  tools: [],
  studies: [],
  parts: { lies: true, inHand: partToLay, ownLine: true },
};
