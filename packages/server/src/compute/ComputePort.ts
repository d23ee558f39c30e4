import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { OperationFile } from '@jasmorphe/core/operations/Operation';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import type { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import type { WhatIf } from '@jasmorphe/core/planning/days/whatIfs';
import type { StoredMesh } from '../store/StoredMesh.ts';

/** Runs an operation. */
export interface RunTask {
  kind: 'run';
  operation: OperationName;
  params: Record<string, unknown>;
  /** meshes by their hashes */
  inputs: readonly string[];
  /** the file that it reads, by its hash */
  source?: { hash: string; name: string };
}

/** Makes a mesh that is quick to draw. */
export interface DisplayTask {
  kind: 'display';
  hash: string;
  /** triangles */
  budget: number;
}

/** Looks once more what a mesh is. */
export interface InspectTask {
  kind: 'inspect';
  hash: string;
}

/** Plans days; with it, if wanted, how they would be otherwise. */
export interface PlanTask {
  kind: 'plan';
  request: PlanRequest;
  nowMs: number;
  otherwise: boolean;
}

/**
 * Work that needs nothing but what it names: params, and meshes and files by their hashes. It is plain JSON; where it is done, how it
 * gets there and what it works with is the matter of whoever does it.
 */
export type ComputeTask = RunTask | DisplayTask | InspectTask | PlanTask;

export interface RunResult {
  /** meshes that were made, put into the store */
  outputs: StoredMesh[];
  report: unknown;
  files: OperationFile[];
  elapsedMs: number;
}

export interface PlanResult {
  plan: DaysPlan;
  whatIfs: WhatIf[];
}

/** What comes of each kind of task. A display mesh comes as the bytes that a page reads. */
export interface Computed {
  run: RunResult;
  display: Uint8Array;
  inspect: Inspection;
  plan: PlanResult;
}

export type ComputedOf<T extends ComputeTask> = Computed[T['kind']];

/** What is heard of work while it is done. */
export interface Hearing {
  progress?: (fraction: number, phase: string) => void;
  /** told again and again by whoever does it for as long as it is at work, at least every `beatMs`; with who that is */
  beat?: (owner: string) => void;
}

/** How often work says that it is still done, ms. */
export const beatMs = 2000;

/** Work that is done: its end, and what ends it. */
export interface ComputeRun<T> {
  /** @throws MeshError as the work does; `cancelled` once it is */
  result: Promise<T>;
  /** What does not notice within a moment is ended all the same. */
  cancel(): void;
}

/** Where work is done that takes long: the threads of this process, or whatever else can. */
export interface ComputePort {
  /** how much may be under way at once */
  readonly size: number;
  run<T extends ComputeTask>(task: T, hearing?: Hearing): ComputeRun<ComputedOf<T>>;
}

/** Meshes and files by the SHA-256 of what they hold. */
export interface MeshStore {
  /** Bytes that were held against their name. @throws StoreError or MeshError `file-missing`, `file-damaged` */
  read(kind: 'meshes' | 'sources', hash: string): Promise<Uint8Array>;
  /** Puts bytes in under their hash, and returns it; what is there already stays. */
  put(kind: 'meshes' | 'sources', bytes: Uint8Array): Promise<string>;
}
