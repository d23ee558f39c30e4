import { MeshoptEncoder } from 'meshoptimizer/encoder';
import { displayHeaderBytes, displayMagic, displayVertexBytes } from '@jasmorphe/contracts/displayMesh';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { fromCanonical, toCanonical } from '@jasmorphe/core/mesh/canonical';
import { boundsOf, sizeOf, triangleCount, vertexCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import type { OperationContext } from '@jasmorphe/core/operations/Operation';
import { operationOf } from '@jasmorphe/core/operations/runs';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { whatIfs } from '@jasmorphe/core/planning/days/whatIfs';
import { simplifyTo } from '@jasmorphe/core/repair/makeSimpler';
import type { RunContext } from '@jasmorphe/core/run/context';
import type { StoredMesh } from '../store/StoredMesh.ts';
import type {
  Computed,
  ComputedOf,
  ComputeTask,
  DisplayTask,
  InspectTask,
  MeshStore,
  PlanResult,
  PlanTask,
  RunResult,
  RunTask,
} from './ComputePort.ts';

/** Meshes above this are inspected without the search for crossings; the mend step does it anyway. */
const crossingsLimit = 2_000_000;

/**
 * Does a task, wherever it is: all that it needs is in it and in the store.
 *
 * @throws MeshError as the work does
 */
export async function compute<T extends ComputeTask>(
  task: T,
  store: MeshStore,
  context: OperationContext,
): Promise<ComputedOf<T>> {
  return (await does[task.kind](task as never, store, context)) as ComputedOf<T>;
}

function plan({ request, nowMs, otherwise }: PlanTask): PlanResult {
  const planned = planDays(request, nowMs);
  return { plan: planned, whatIfs: otherwise ? whatIfs(request, planned, nowMs) : [] };
}

async function run(task: RunTask, store: MeshStore, context: OperationContext): Promise<RunResult> {
  const source = task.source && {
    name: task.source.name,
    mediaType: '',
    bytes: await store.read('sources', task.source.hash),
  };
  const inputs = await Promise.all(task.inputs.map(async (hash) => fromCanonical(await store.read('meshes', hash))));
  const operation = operationOf(task.operation);
  const params = parseParams(operation.params, task.params);
  const started = performance.now();
  const { outputs, report, files } = await operation.run(inputs, params, source ? { ...context, source } : context);
  const elapsedMs = Math.round(performance.now() - started);
  const stored: StoredMesh[] = [];
  for (const [i, mesh] of outputs.entries()) {
    context.checkCancelled();
    context.progress(0.99, outputs.length > 1 ? `Storing mesh ${i + 1} of ${outputs.length}` : 'Storing the mesh');
    const bytes = toCanonical(mesh);
    stored.push({
      hash: await store.put('meshes', bytes),
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

const inspect = async ({ hash }: InspectTask, store: MeshStore, context: OperationContext): Promise<Inspection> =>
  factsOf(fromCanonical(await store.read('meshes', hash)), context);

async function display({ hash, budget }: DisplayTask, store: MeshStore): Promise<Uint8Array> {
  const full = fromCanonical(await store.read('meshes', hash));
  const mesh = triangleCount(full) > budget ? await simplifyTo(full, budget, Infinity) : full;
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
  return out;
}

/** How each kind of task is done. */
const does: {
  [K in ComputeTask['kind']]: (
    task: Extract<ComputeTask, { kind: K }>,
    store: MeshStore,
    context: OperationContext,
  ) => Computed[K] | Promise<Computed[K]>;
} = { run, display, inspect, plan };
