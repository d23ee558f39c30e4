import { useEffect } from 'react';

/** Every key of the application, for the sheet. Chosen for this work: letters for the thing they show. */
export const keySheet: { keys: string; does: string; where: string }[] = [
  { keys: '1 – 8', does: 'Stop of the route, from Intake to Finish', where: 'Route' },
  { keys: '↓ ↑', does: 'Next and previous finding; the bench flies there', where: 'Findings' },
  { keys: 'Esc', does: 'Let go of the finding or part', where: 'Findings' },
  { keys: '⏎', does: 'Do what the decision advises', where: 'Decision' },
  { keys: '← →', does: 'Move the section plane; Shift for small steps', where: 'Bench' },
  { keys: 'S', does: 'Section plane on and off', where: 'Bench' },
  { keys: 'A', does: 'Turn the section plane to the next axis', where: 'Bench' },
  { keys: 'X', does: 'Parts apart and together', where: 'Bench' },
  { keys: 'space', does: 'All of the model in view', where: 'Bench' },
  { keys: 'V', does: 'Next standard view: front, right, top, corner', where: 'Bench' },
  { keys: 'H', does: 'A hand or a figure of true size beside it', where: 'Bench' },
  { keys: 'B', does: 'At Print: the part in hand as it lies on the bed', where: 'Bench' },
  { keys: 'U', does: 'Undo; Shift+U redo. At Print: what was said of the part', where: 'Ledger' },
  { keys: 'M', does: 'mm or inches', where: 'Everywhere' },
  { keys: '?', does: 'This sheet', where: 'Everywhere' },
];

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) ||
    target.closest('[role="dialog"],[role="listbox"],[role="slider"]') !== null);

/** Calls the handler of a key unless something is being typed. Names as in `KeyboardEvent.key`, lower case; Shift as a prefix. */
export function useKeys(handlers: Record<string, () => void>): void {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
      const name = e.key.length === 1 ? e.key.toLowerCase() : e.key;
      const handler = handlers[`${e.shiftKey && e.key !== '?' ? 'Shift+' : ''}${name}`];
      if (!handler) return;
      // a focused button keeps its own Enter and space
      if (
        (e.key === 'Enter' || e.key === ' ') &&
        e.target instanceof HTMLElement &&
        /^(BUTTON|A)$/.test(e.target.tagName)
      )
        return;
      e.preventDefault();
      handler();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}
