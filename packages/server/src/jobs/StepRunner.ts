import { isMeshError, MeshError } from '@jasmorphe/core/run/MeshError';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { descriptionOf, type OperationName, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import type { StepOf } from '@jasmorphe/contracts/steps';
import type { Meshes } from '../store/Meshes.ts';
import { leaseMs } from '../store/JobRows.ts';
import { stepId } from '../store/stepId.ts';
import type { PlannedStep } from '../store/payloadChecks.ts';
import { beatMs, type ComputePort, type ComputeRun, type RunResult, type RunTask } from '../compute/ComputePort.ts';
import type { StoredMesh } from '../store/StoredMesh.ts';

/** A step that was worked out, or was known. */
export interface StepMade<N extends OperationName = OperationName> {
  step: Omit<StepOf<N>, 'createdAt'>;
  outputs: StoredMesh[];
}

/** A job at work: how to end it, and when it has ended. */
export interface ActiveJob {
  projectId: string | null;
  handle: ComputeRun<RunResult> | null;
  /** told once it is cancelled, or cut off */
  signal: AbortSignal;
  ended: Promise<void>;
}

const cancelled = () => new MeshError('cancelled', 'Cancelled before it was done.');

/** What a promise gives, or its refusal once the signal is told: nobody need wait to be let go. */
function unlessOver<T>(promise: Promise<T>, signal: AbortSignal): Promise<T> {
  return new Promise((resolve, reject) => {
    const stop = () => reject(cancelled());
    signal.addEventListener('abort', stop, { once: true });
    promise.then(resolve, reject).finally(() => signal.removeEventListener('abort', stop));
  });
}

/** Nothing was heard for long of whoever has a step done. */
export class NobodyAtWork extends Error {
  constructor() {
    super('whoever was at work on it is not heard of any more');
    this.name = 'NobodyAtWork';
  }
}

/** What work gives, for as long as it is heard of; its late answer is not waited for. @throws NobodyAtWork */
async function whileHeard<T>(begin: (beat: () => void) => ComputeRun<T>): Promise<T> {
  // counted, and not timed: a computer that slept has heard nothing either
  let silent = 0;
  const run = begin(() => (silent = 0));
  let timer: NodeJS.Timeout | undefined;
  const silence = new Promise<never>((_, reject) => {
    timer = setInterval(() => {
      if (++silent * beatMs <= leaseMs) return;
      run.cancel();
      reject(new NobodyAtWork());
    }, beatMs).unref();
  });
  try {
    return await Promise.race([run.result, silence]);
  } finally {
    clearInterval(timer);
  }
}

/** Works steps out, each once. */
export class StepRunner {
  /** runs under way by step, so that the same step is never worked out twice at once */
  private readonly underWay = new Map<string, Promise<StepMade>>();

  constructor(
    private readonly meshes: Meshes,
    private readonly compute: ComputePort,
  ) {}

  /**
   * The step for these params and inputs: from the table, from a run under way, or by running it.
   *
   * @throws MeshError `cancelled` once the job is
   */
  async run<N extends OperationName>(
    job: ActiveJob,
    planned: PlannedStep<N>,
    inputs: string[],
    source: { hash: string; name: string } | undefined,
    progress: (fraction: number, phase: string) => void,
  ): Promise<StepMade<N>> {
    const operation = descriptionOf(planned.operation);
    const params = parseParams(operation.params, planned.params);
    const id = stepId(operation.name, operation.version, params, inputs);
    for (;;) {
      if (job.signal.aborted) throw cancelled();
      const known = await this.meshes.knownStep(id);
      if (known) return known as unknown as StepMade<N>;
      const shared = this.underWay.get(id);
      if (!shared) break;
      try {
        progress(0, 'Waiting for another that does the same');
        return (await unlessOver(shared, job.signal)) as unknown as StepMade<N>;
      } catch (error) {
        // if the other one was cancelled, this one still wants it, unless it was as well
        if (!(error instanceof NobodyAtWork) && !(isMeshError(error) && error.code === 'cancelled')) throw error;
      }
    }
    const task: RunTask = {
      kind: 'run',
      operation: planned.operation,
      params: { ...params },
      inputs: source ? [] : inputs,
      source,
    };
    const promise = whileHeard((beat) => {
      const run = this.compute.run(task, { progress, beat });
      job.handle = run;
      if (job.signal.aborted) run.cancel();
      return run;
    }).then((result): StepMade => ({
      step: {
        id,
        operation: planned.operation,
        version: operation.version,
        params: { ...params },
        inputs,
        outputs: result.outputs.map((o) => o.hash),
        report: result.report as ReportOf<OperationName>,
        elapsedMs: result.elapsedMs,
      },
      outputs: result.outputs,
    }));
    this.underWay.set(id, promise);
    try {
      return (await promise) as unknown as StepMade<N>;
    } finally {
      this.underWay.delete(id);
    }
  }
}
