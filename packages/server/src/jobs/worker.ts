import type { MessagePort } from 'node:worker_threads';
import { MeshoptEncoder } from 'meshoptimizer/encoder';
import { displayHeaderBytes, displayMagic, displayVertexBytes } from '@jasmorphe/contracts/displayMesh';
import { simplifyTo } from '@jasmorphe/core/repair/makeSimpler';
import { fromCanonical, toCanonical } from '@jasmorphe/core/mesh/canonical';
import { cancelledError, quietContext, type RunContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { dropKernel } from '@jasmorphe/core/solid/kernel';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { boundsOf, sizeOf, triangleCount, vertexCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import type { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { whatIfs, type WhatIf } from '@jasmorphe/core/planning/days/whatIfs';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import type { OperationContext, OperationFile } from '@jasmorphe/core/operations/Operation';
import { operationOf } from '@jasmorphe/core/operations/runs';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import { secondThread } from '@jasmorphe/threads/secondThread';
import type { ReadPack } from '../pack/readPack.ts';
import { BlobStore } from '../store/BlobStore.ts';
import { collectGarbage } from './collectGarbage.ts';
import { troubleOf } from '../store/troubles.ts';

/** Work for one thread. */
export type Task = RunTask | DisplayTask | InspectTask | PlanTask | UnpackTask;

export interface RunTask {
  kind: 'run';
  dataFolder: string;
  operation: OperationName;
  params: Record<string, unknown>;
  inputs: string[];
  source?: { hash: string; name: string };
  port: MessagePort;
  /** one Int32: 1 once the maker has cancelled */
  cancel: SharedArrayBuffer;
}

export interface DisplayTask {
  kind: 'display';
  dataFolder: string;
  hash: string;
  budget: number;
}

/** Looks once more what a mesh is. */
export interface InspectTask {
  kind: 'inspect';
  dataFolder: string;
  hash: string;
}

/** Looks through the archive of a project. */
export interface UnpackTask {
  kind: 'unpack';
  dataFolder: string;
  path: string;
}

/** Plans days; with it, if wanted, how they would be otherwise. */
export interface PlanTask {
  kind: 'plan';
  request: PlanRequest;
  nowMs: number;
  otherwise: boolean;
}

export interface PlanResult {
  plan: DaysPlan;
  whatIfs: WhatIf[];
}

export interface StoredMesh {
  hash: string;
  triangles: number;
  vertices: number;
  bytes: number;
  facts: Inspection;
}

export interface RunResult {
  outputs: StoredMesh[];
  report: unknown;
  files: OperationFile[];
  elapsedMs: number;
}

/** Errors cross the thread as plain data, so that their code and hint are kept. */
export interface FailedRun {
  failed: { code: string; message: string; hint: string; field?: string };
}

/** Meshes above this are inspected without the search for crossings; the mend step does it anyway. */
const crossingsLimit = 2_000_000;

export default async function work(
  task: Task,
): Promise<RunResult | FailedRun | Inspection | PlanResult | ReadPack | true> {
  try {
    if (task.kind === 'plan') {
      const plan = planDays(task.request, task.nowMs);
      return { plan, whatIfs: task.otherwise ? whatIfs(task.request, plan, task.nowMs) : [] };
    }
    if (task.kind === 'run') return await run(task);
    if (task.kind === 'unpack') {
      // what a pack is held to takes longer to read than a thread should to begin
      const { readPack } = await import('../pack/readPack.ts');
      return await readPack(task.path, new BlobStore(task.dataFolder));
    }
    return task.kind === 'inspect' ? await inspect(task) : await display(task);
  } catch (error) {
    if (isMeshError(error))
      return { failed: { code: error.code, message: error.message, hint: error.hint, field: error.field } };
    const trouble = troubleOf(error);
    if (trouble) return { failed: trouble };
    throw error;
  } finally {
    // what of a thread's memory is neither its heap nor buffers is the kernel's
    const { external, arrayBuffers } = process.memoryUsage();
    if (external - arrayBuffers > kernelAtMost && dropKernel())
      // when the answer is out, and with it whatever still held the kernel
      setImmediate(collectGarbage);
  }
}

async function run(task: RunTask): Promise<RunResult> {
  const blobs = new BlobStore(task.dataFolder);
  const flag = new Int32Array(task.cancel);
  let saidAt = 0;
  const second = secondThread();
  const context: OperationContext = {
    seed: 1,
    secondThread: second.run,
    progress(fraction, phase) {
      const now = Date.now();
      if (now - saidAt < 100 && fraction < 1) return;
      saidAt = now;
      task.port.postMessage({ progress: fraction, phase });
    },
    checkCancelled() {
      if (Atomics.load(flag, 0) !== 0) throw cancelledError();
    },
  };
  try {
    return await runWith(task, blobs, context);
  } finally {
    await second.close();
  }
}

/** Memory that a kernel may keep from one run to the next, bytes: usual parts need less, and to load it anew takes as long as a page. */
const kernelAtMost = 96 * 2 ** 20;

async function runWith(task: RunTask, blobs: BlobStore, context: OperationContext): Promise<RunResult> {
  if (task.source)
    context.source = { name: task.source.name, mediaType: '', bytes: await blobs.read('sources', task.source.hash) };
  const inputs = await Promise.all(task.inputs.map(async (hash) => fromCanonical(await blobs.read('meshes', hash))));
  const operation = operationOf(task.operation);
  const started = performance.now();
  const { outputs, report, files } = await operation.run(inputs, parseParams(operation.params, task.params), context);
  const elapsedMs = Math.round(performance.now() - started);
  const stored: StoredMesh[] = [];
  for (let i = 0; i < outputs.length; i++) {
    context.checkCancelled();
    context.progress(0.99, outputs.length > 1 ? `Storing mesh ${i + 1} of ${outputs.length}` : 'Storing the mesh');
    const mesh = outputs[i];
    const bytes = toCanonical(mesh);
    stored.push({
      hash: await blobs.put('meshes', bytes),
      triangles: triangleCount(mesh),
      vertices: vertexCount(mesh),
      bytes: bytes.length,
      facts: factsOf(mesh, context),
    });
  }
  return { outputs: stored, report, files: files ?? [], elapsedMs };
}

/** What is kept of a mesh. */
const factsOf = (mesh: TriMesh, context: RunContext): Inspection =>
  inspectMesh(
    mesh,
    { lines: true, skipSelfIntersections: triangleCount(mesh) > crossingsLimit },
    { ...context, progress() {} },
  );

const inspect = async ({ dataFolder, hash }: InspectTask): Promise<Inspection> =>
  factsOf(fromCanonical(await new BlobStore(dataFolder).read('meshes', hash)), quietContext);

async function display(task: DisplayTask): Promise<true> {
  const blobs = new BlobStore(task.dataFolder);
  const full = fromCanonical(await blobs.read('meshes', task.hash));
  const mesh = triangleCount(full) > task.budget ? await simplifyTo(full, task.budget, Infinity) : full;
  await MeshoptEncoder.ready;
  const box = boundsOf(mesh);
  const size = sizeOf(box);
  const n = vertexCount(mesh);
  const packed = new Uint16Array(4 * n);
  for (let v = 0; v < n; v++)
    for (let k = 0; k < 3; k++)
      packed[4 * v + k] = size[k] > 0 ? Math.round(((mesh.positions[3 * v + k] - box.min[k]) / size[k]) * 65535) : 0;
  const indices = Uint32Array.from(mesh.triangles);
  const vertices = MeshoptEncoder.encodeVertexBuffer(new Uint8Array(packed.buffer), n, displayVertexBytes);
  const triangles = MeshoptEncoder.encodeIndexBuffer(new Uint8Array(indices.buffer), indices.length, 4);
  const out = new Uint8Array(displayHeaderBytes + vertices.length + triangles.length);
  const head = new DataView(out.buffer);
  head.setUint32(0, displayMagic, true);
  head.setUint32(4, n, true);
  head.setUint32(8, indices.length / 3, true);
  head.setUint32(12, triangleCount(full), true);
  [...box.min, ...size].forEach((x, i) => head.setFloat32(16 + 4 * i, x, true));
  head.setUint32(40, vertices.length, true);
  head.setUint32(44, triangles.length, true);
  out.set(vertices, displayHeaderBytes);
  out.set(triangles, displayHeaderBytes + vertices.length);
  await blobs.write('display', displayName(task.hash, task.budget), out);
  return true;
}

export const displayName = (hash: string, budget: number): string => `${hash}-${budget}`;
