/** What can happen to the print of one mesh. Entries are never edited; one that was wrong is withdrawn by another. */
export const printOutcomes = ['started', 'passed', 'failed', 'again', 'aside', 'withdrawn'] as const;
export type PrintOutcome = (typeof printOutcomes)[number];

/** planned: not on a bed yet; failed: stopped at a height; aside: not to be printed. */
export type PrintState = 'planned' | 'printing' | 'printed' | 'failed' | 'aside';

/** Each state in words. */
export const printStateWords: Readonly<Record<PrintState, string>> = {
  planned: 'to print',
  printing: 'on the bed',
  printed: 'printed',
  failed: 'stopped',
  aside: 'set aside',
};

interface Stands {
  state: PrintState;
}

/** To be printed, and on no bed yet. */
export const isWaiting = ({ state }: Stands): boolean => state === 'planned';
export const isPrinting = ({ state }: Stands): boolean => state === 'printing';
export const isPrinted = ({ state }: Stands): boolean => state === 'printed';
export const isStopped = ({ state }: Stands): boolean => state === 'failed';
export const isAside = ({ state }: Stands): boolean => state === 'aside';

/** Started, whatever came of it. */
export const isBegun = ({ state }: Stands): boolean => state !== 'planned' && state !== 'aside';

/** Is there anything left to do for it at the printer? */
export const isToPrint = ({ state }: Stands): boolean => state !== 'printed' && state !== 'aside';

/** On a bed, or stopped there: how it lies is settled until it is said what became of it. */
export const liesStill = ({ state }: Stands): boolean => state === 'printing' || state === 'failed';

/** Was it cut off from what stopped, and waits for its own print? @param rests recuts in force */
export const isRestWaiting = ({ state, rests }: Stands & { rests: number }): boolean =>
  rests > 0 && state === 'planned';

/** One entry of the print log, as far as states follow from it. */
export interface PrintEvent {
  id: string;
  outcome: PrintOutcome;
  /** where it stopped, mm above the bed */
  heightMm: number | null;
  /** the entry that this one takes back */
  correctsId: string | null;
}

const after: Record<Exclude<PrintOutcome, 'withdrawn'>, PrintState> = {
  started: 'printing',
  passed: 'printed',
  failed: 'failed',
  again: 'planned',
  aside: 'aside',
};

/** Entries that no later one has taken back; taking back a taking back brings the first into force again. */
export function inForce(events: readonly PrintEvent[]): PrintEvent[] {
  const withdrawn = new Set<string>();
  const kept: PrintEvent[] = [];
  for (let i = events.length - 1; i >= 0; i--) {
    if (withdrawn.has(events[i].id)) continue;
    kept.push(events[i]);
    if (events[i].outcome === 'withdrawn' && events[i].correctsId) withdrawn.add(events[i].correctsId!);
  }
  return kept.reverse();
}

export interface PrintStanding {
  state: PrintState;
  /** height at which it stopped, mm; null unless it did */
  failedAtMm: number | null;
  /** the entry that an undo would take back */
  lastId: string | null;
  /** the withdrawal that a redo would take back: of those of words behind the last that was said, the one made last */
  redoId: string | null;
}

/**
 * State of one mesh from its entries.
 *
 * @param events all entries about that mesh, in the order in which they were made
 */
export function standingOf(events: readonly PrintEvent[]): PrintStanding {
  const force = inForce(events);
  const said = force.filter((e) => e.outcome !== 'withdrawn');
  const last = said.at(-1);
  // whatever is said makes what was taken back before it final
  const since = events.slice(events.findLastIndex((e) => e.outcome !== 'withdrawn') + 1);
  const words = new Set(events.filter((e) => e.outcome !== 'withdrawn').map((e) => e.id));
  // a redo is a withdrawal as well: of another, and not of a word
  const undone = since.filter((e) => words.has(e.correctsId ?? '') && force.includes(e));
  return {
    state: last ? after[last.outcome as Exclude<PrintOutcome, 'withdrawn'>] : 'planned',
    failedAtMm: last?.outcome === 'failed' ? last.heightMm : null,
    lastId: last?.id ?? null,
    redoId: undone.at(-1)?.id ?? null,
  };
}

/** Was something done for the print of a part that another mesh would make useless: started, stopped, printed, or cut off and begun anew? */
export const isHeld = ({ state, rests }: Stands & { rests: number }): boolean => rests > 0 || isBegun({ state });

/**
 * Why an entry cannot be taken back, in a sentence; null when it can: what was said last of a mesh, unless something was built on it.
 *
 * @param ofMesh all entries about that mesh, in the order in which they were made
 * @param recut what stopped was cut off since, and its rest goes on
 */
export function takeBackRefusal(
  { id, tag }: Pick<PrintEvent, 'id'> & { tag: string },
  ofMesh: readonly PrintEvent[],
  recut: boolean,
): string | null {
  if (!inForce(ofMesh).some((e) => e.id === id)) return 'That entry is taken back already.';
  if (standingOf(ofMesh).lastId !== id) return `${tag} has gone on since. Take that back first.`;
  return recut ? `${tag} was recut since. Take the recut back first, at Print.` : null;
}

/** Why an entry does not follow from a state, in a sentence; null when it does. */
export function refusalOf(state: PrintState, outcome: PrintOutcome): string | null {
  if (outcome === 'started' && state === 'printing') return 'It is on the bed already.';
  if (outcome === 'started' && state === 'printed') return 'It is printed already. Say "again" first.';
  if (outcome === 'passed' && state === 'printed') return 'It is printed already.';
  if (outcome === 'failed' && state === 'printed') return 'It is printed already. Take that entry back first.';
  if (outcome === 'again' && state === 'planned') return 'It waits to be printed already.';
  if (outcome === 'aside' && state === 'aside') return 'It is set aside already.';
  if (state === 'aside' && outcome !== 'again') return 'It is set aside. Take it up again first.';
  return null;
}
