import { useEffect, useState } from 'react';
import { lazyPart } from './Boundary.tsx';
import { onKey, useKeys } from './keys.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { setUnit, toggleKeys } from './uiSlice.ts';

const KeysTable = lazyPart(() => import('./KeysTable.tsx'));

/** Listens to the keyboard for the whole page, and shows all keys on one sheet. */
export function KeysSheet() {
  const dispatch = useAppDispatch();
  const { keysOpen, unit } = useAppSelector((s) => s.ui);
  // fetched when it is first opened; then it stays, so that it closes as dialogs do
  const [wanted, setWanted] = useState(keysOpen);
  if (keysOpen && !wanted) setWanted(true);
  useEffect(() => {
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  useKeys('page', {
    sheet: () => dispatch(toggleKeys()),
    unit: () => dispatch(setUnit(unit === 'mm' ? 'in' : 'mm')),
  });
  return wanted && <KeysTable open={keysOpen} onClose={() => dispatch(toggleKeys())} />;
}
