import { useCallback } from 'react';
import { lengthText, speakers, type Speaker } from '@jasmorphe/core/words/numbers';
import { useAppSelector } from './store.ts';

/** Length formatter for the unit that the person chose; the same one until that changes. */
export function useLength(): (mm: number, withUnit?: boolean) => string {
  const unit = useAppSelector((s) => s.ui.unit);
  return useCallback((mm, withUnit = true) => lengthText(mm, unit, withUnit), [unit]);
}

/** How figures are said in the unit that the person chose: lengths, areas, volumes. */
export const useSpeaker = (): Speaker => speakers[useAppSelector((s) => s.ui.unit)];
