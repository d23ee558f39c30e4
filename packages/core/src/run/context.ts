import { MeshError } from './MeshError.ts';

/** Pieces of work that can be done on another thread, by the names that it knows them by (`operations/pieces.ts`). */
export type PieceName = 'crossings' | 'refusal';

/** Starts a piece of work on another thread: plain data in, plain data out. See `begin`. */
export type SecondThread = (name: PieceName, ...args: unknown[]) => Promise<unknown>;

/** What long work may ask of whoever runs it. */
export interface RunContext {
  /** `fraction` from 0 to 1 over the whole run; `phase` in workshop words. */
  progress(fraction: number, phase: string): void;
  /** Throws a `cancelled` MeshError once the maker has cancelled; call it at least every 100 ms of work. */
  checkCancelled(): void;
  /** Seed of every random choice, so that the same run gives the same bytes. */
  readonly seed: number;
  /** Begins a piece of the work on a second thread, where there is one. */
  readonly secondThread?: SecondThread;
}

export const quietContext: RunContext = { progress() {}, checkCancelled() {}, seed: 1 };

export const cancelledError = (): MeshError => new MeshError('cancelled', 'Cancelled before it was done.', '');

/** A context whose progress fills the slice from `from` to `to` of `context`'s. */
export function sliceContext(context: RunContext, from: number, to: number): RunContext {
  return {
    progress: (fraction, phase) => context.progress(from + (to - from) * fraction, phase),
    checkCancelled: () => context.checkCancelled(),
    seed: context.seed,
    secondThread: context.secondThread,
  };
}
