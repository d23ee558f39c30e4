import { useEffect, useRef } from 'react';

/** A key of the application. */
interface KeyEntry {
  /** what it does, as handlers name it */
  id: string;
  /** as in `KeyboardEvent.key`, lower case, Shift as a prefix; several keys may do one thing */
  keys: readonly string[];
  /** how the sheet writes them */
  shown: string;
  does: string;
  /** the part of the page that it belongs to */
  where: string;
}

/** Every key there is, by the part of the page that answers to it. Chosen for this work: letters for the thing they show. */
const keyRegistry = {
  route: [
    {
      id: 'stop',
      keys: ['1', '2', '3', '4', '5', '6', '7', '8'],
      shown: '1 – 8',
      does: 'Stop of the route, from Intake to Finish',
      where: 'Route',
    },
  ],
  findings: [
    {
      id: 'next',
      keys: ['ArrowDown'],
      shown: '↓',
      does: 'Next finding, or support tip; the bench flies there',
      where: 'Findings',
    },
    { id: 'previous', keys: ['ArrowUp'], shown: '↑', does: 'Previous finding', where: 'Findings' },
    { id: 'letGo', keys: ['Escape'], shown: 'Esc', does: 'Let go of the finding or part', where: 'Findings' },
  ],
  decision: [{ id: 'do', keys: ['Enter'], shown: '⏎', does: 'Do what the decision advises', where: 'Decision' }],
  bench: [
    {
      id: 'left',
      keys: ['ArrowLeft'],
      shown: '←',
      does: 'Section plane back; of support tips five layers down',
      where: 'Bench',
    },
    {
      id: 'right',
      keys: ['ArrowRight'],
      shown: '→',
      does: 'Section plane on; of support tips five layers up',
      where: 'Bench',
    },
    { id: 'leftABit', keys: ['Shift+ArrowLeft'], shown: 'Shift ←', does: 'the same, in small steps', where: 'Bench' },
    { id: 'rightABit', keys: ['Shift+ArrowRight'], shown: 'Shift →', does: 'the same, in small steps', where: 'Bench' },
    { id: 'section', keys: ['s'], shown: 'S', does: 'Section plane on and off', where: 'Bench' },
    { id: 'axis', keys: ['a'], shown: 'A', does: 'Turn the section plane to the next axis', where: 'Bench' },
    { id: 'apart', keys: ['x'], shown: 'X', does: 'Parts apart and together', where: 'Bench' },
    { id: 'all', keys: [' '], shown: 'space', does: 'All of the model in view', where: 'Bench' },
    {
      id: 'view',
      keys: ['v'],
      shown: 'V',
      does: 'Next standard view: front, right, top, corner',
      where: 'Bench',
    },
    { id: 'beside', keys: ['h'], shown: 'H', does: 'A hand or a figure of true size beside it', where: 'Bench' },
    {
      id: 'laid',
      keys: ['b'],
      shown: 'B',
      does: 'At Lay out and Print: the part in hand as it lies on the bed',
      where: 'Bench',
    },
  ],
  tips: [{ id: 'tick', keys: ['t'], shown: 'T', does: 'Support tip looked at, or not', where: 'Lay out' }],
  ledger: [
    {
      id: 'undo',
      keys: ['u'],
      shown: 'U',
      does: 'Undo the last step; at Lay out first how the part lies',
      where: 'Ledger',
    },
    { id: 'redo', keys: ['Shift+u'], shown: 'Shift U', does: 'Redo', where: 'Ledger' },
  ],
  words: [
    { id: 'takeBack', keys: ['w'], shown: 'W', does: 'Take back what was last said of the part', where: 'Print' },
    { id: 'sayAgain', keys: ['Shift+w'], shown: 'Shift W', does: 'Say what was taken back after all', where: 'Print' },
  ],
  page: [
    { id: 'unit', keys: ['m'], shown: 'M', does: 'mm or inches', where: 'Everywhere' },
    { id: 'sheet', keys: ['?'], shown: '?', does: 'This sheet', where: 'Everywhere' },
  ],
} as const satisfies Record<string, readonly KeyEntry[]>;

export type KeyGroup = keyof typeof keyRegistry;
export type KeyIdOf<G extends KeyGroup> = (typeof keyRegistry)[G][number]['id'];

/** Keys that a thing answers to while it is in focus: it binds them itself. */
const focusKeys: readonly KeyEntry[] = [
  {
    id: 'move',
    keys: ['ArrowLeft', 'ArrowRight'],
    shown: '← →',
    does: 'A bedful in focus an hour earlier or later; with Shift six',
    where: 'Days',
  },
  {
    id: 'shift',
    keys: ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'],
    shown: '← → ↑ ↓',
    does: 'A part in focus by 1 mm; with Shift 10',
    where: 'Bedfuls by hand',
  },
  { id: 'turn', keys: ['[', ']'], shown: '[ ]', does: 'Turn it by 15 degrees', where: 'Bedfuls by hand' },
];

/** All of them, for the sheet. */
export const keySheet: readonly KeyEntry[] = [...Object.values(keyRegistry).flat(), ...focusKeys];

/** How the sheet writes the key that does that. */
export const shownKey = <G extends KeyGroup>(group: G, id: KeyIdOf<G>): string =>
  keySheet.find((k) => k.id === id && (keyRegistry[group] as readonly KeyEntry[]).includes(k))!.shown;

/** @param at which of the keys that do it, from 0 */
type Handler = (at: number) => void;
type Handlers<G extends KeyGroup> = Partial<Record<KeyIdOf<G>, Handler>>;

/** Who answers to the keys of a group now; the last to come is asked. */
const answering = new Map<KeyGroup, { current: Partial<Record<string, Handler>> }[]>();

const byKey = new Map<string, { group: KeyGroup; id: string; at: number }>();
for (const [group, entries] of Object.entries(keyRegistry) as [KeyGroup, readonly KeyEntry[]][])
  for (const { id, keys } of entries) keys.forEach((key, at) => byKey.set(key, { group, id, at }));

/** Nothing is typed into boxes, sliders and tables: they keep the keys that tick, move and turn them, and the others go on. */
const moved = (target: HTMLElement): boolean =>
  target instanceof HTMLInputElement
    ? /^(checkbox|radio|range)$/.test(target.type)
    : !/^(TEXTAREA|SELECT)$/.test(target.tagName) && target.closest('[role="slider"],[role="grid"]') !== null;
const moves = (target: HTMLElement, key: string): boolean =>
  /^( |Enter|Home|End|Page.*)$/.test(key) ||
  (/^Arrow/.test(key) && !(target instanceof HTMLInputElement && target.type === 'checkbox'));

const typing = (target: EventTarget | null, key: string): boolean => {
  if (!(target instanceof HTMLElement)) return false;
  if (target.isContentEditable || target.closest('[role="dialog"],[role="listbox"]')) return true;
  return moved(target) ? moves(target, key) : /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
};

/** What is done with a key that is pressed anywhere on the page. Bound once, by the page itself. */
export function onKey(e: KeyboardEvent): void {
  if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target, e.key)) return;
  const name = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  const entry = byKey.get(`${e.shiftKey && e.key !== '?' ? 'Shift+' : ''}${name}`);
  const handler = entry && answering.get(entry.group)?.at(-1)?.current[entry.id];
  if (!entry || !handler) return;
  // a focused button keeps its own Enter and space
  if ((e.key === 'Enter' || e.key === ' ') && e.target instanceof HTMLElement && /^(BUTTON|A)$/.test(e.target.tagName))
    return;
  e.preventDefault();
  handler(entry.at);
}

/** Answers to the keys of a group for as long as the component is there, unless something is being typed. */
export function useKeys<G extends KeyGroup>(group: G, handlers: Handlers<G>): void {
  const held = useRef<Partial<Record<string, Handler>>>(handlers);
  useEffect(() => void (held.current = handlers));
  useEffect(() => {
    const mine = held;
    answering.set(group, [...(answering.get(group) ?? []), mine]);
    return () =>
      void answering.set(
        group,
        answering.get(group)!.filter((a) => a !== mine),
      );
  }, [group]);
}
