import type { JobView, ServerEvent } from '@jasmorphe/contracts/views';
import type { Statement } from '../store/database.ts';
import type { JobRow } from '../store/JobRows.ts';
import type { Library } from '../store/Library.ts';
import type { JobKindName, PayloadOf } from '../store/payloads.ts';
import type { Relied } from '../store/Writer.ts';
import type { ActiveJob, StepRunner } from './StepRunner.ts';

/** What a job has made: written in one batch together with the word that it is done. */
export interface Outcome {
  statements: Statement[];
  relied: Relied;
  result: NonNullable<JobView['result']>;
  events: ServerEvent[];
}

export type Progress = (fraction: number, phase: string) => void;

/** What a job works with. */
export interface JobContext {
  library: Library;
  steps: StepRunner;
  job: ActiveJob;
  row: Pick<JobRow, 'id' | 'createdAt'>;
  progress: Progress;
}

/** One kind of job. It writes nothing itself: what is to be written is handed back. */
export interface JobKind<K extends JobKindName = JobKindName> {
  kind: K;
  /** only worked out in advance: what a maker waits for comes first */
  waits?: true;
  /** its payload was checked when it was asked for, and is again when it begins */
  run: (context: JobContext, payload: PayloadOf<K>) => Promise<Outcome>;
}

/** A kind of job, with its types checked. */
export const jobKind = <K extends JobKindName>(kind: JobKind<K>): JobKind<K> => kind;

/** Progress of one part of a job. */
export const share =
  (progress: Progress, from: number, to: number): Progress =>
  (fraction, phase) =>
    progress(from + (to - from) * fraction, phase);
