/** What can happen to the print of one mesh. Entries are never edited; one that was wrong is withdrawn by another. */
export const printOutcomes = ['started', 'passed', 'failed', 'again', 'aside', 'withdrawn'] as const;
export type PrintOutcome = (typeof printOutcomes)[number];

/** planned: not on a bed yet; failed: stopped at a height; aside: not to be printed. */
export type PrintState = 'planned' | 'printing' | 'printed' | 'failed' | 'aside';

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
  /** the withdrawal that a redo would take back: only while nothing came after it */
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
  const newest = events.at(-1);
  return {
    state: last ? after[last.outcome as Exclude<PrintOutcome, 'withdrawn'>] : 'planned',
    failedAtMm: last?.outcome === 'failed' ? last.heightMm : null,
    lastId: last?.id ?? null,
    redoId: newest?.outcome === 'withdrawn' && force.includes(newest) ? newest.id : null,
  };
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
