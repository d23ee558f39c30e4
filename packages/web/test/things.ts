import type { StepView } from '@jasmorphe/contracts/steps';
import type { BodyView, JobView, MeshView, PartView, PrinterView, ReferenceView } from '@jasmorphe/contracts/views';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';

/** Things as the server tells of them, with what a test says of them and the usual for all else. */

export const xyz = (x: number, y = x, z = x) => ({ x, y, z });

/** Facts of a sound closed box. */
export const factsOf = (x: number, y: number, z: number, change: object = {}) => ({
  triangles: 12,
  vertices: 8,
  shells: 1,
  openEdges: 0,
  openLoops: 0,
  nonManifoldEdges: 0,
  nonManifoldVertices: 0,
  inconsistentEdges: 0,
  selfIntersectingPairs: 0,
  degenerateTriangles: 0,
  duplicateTriangles: 0,
  watertight: true,
  size: xyz(x, y, z),
  min: xyz(0),
  max: xyz(x, y, z),
  volumeMm3: x * y * z,
  areaMm2: 2 * (x * y + y * z + z * x),
  findings: [],
  ...change,
});

export const meshOf = (hash: string, facts: ReturnType<typeof factsOf>): MeshView =>
  ({
    hash,
    triangles: facts.triangles,
    vertices: facts.vertices,
    bytes: 0,
    facts,
  }) as never;

export const stepOf = (
  operation: string,
  params: object,
  report: object = {},
  change: Partial<StepView> = {},
): StepView =>
  ({
    id: `${operation}-step`,
    operation,
    version: 1,
    params,
    report,
    inputs: [],
    outputs: [`${operation}-mesh`],
    elapsedMs: 1500,
    createdAt: '',
    ...change,
  }) as never;

export const imported = (report: object = {}): StepView =>
  stepOf(
    'import',
    { unit: 'auto' },
    {
      format: 'stl-binary',
      triangles: 12,
      fileSize: xyz(1, 2, 3),
      size: xyz(1, 2, 3),
      unit: 'mm',
      unitFrom: 'guess',
      unitReason: 'its longest side would be 3 mm',
      fileUnit: null,
      objects: [],
      words: null,
      notes: [],
      ...report,
    },
  );

export const bodyOf = (change: Partial<BodyView> = {}): BodyView =>
  ({
    id: 'b',
    kind: 'model',
    projectId: 'p',
    modelId: 'b',
    name: 'carnyx',
    sourceName: 'carnyx.stl',
    path: '',
    copies: 1,
    colour: '',
    aside: null,
    licence: '',
    terms: 'unknown',
    source: {},
    line: [imported()],
    cursor: change.line?.length ?? 1,
    canUndo: false,
    canRedo: false,
    mesh: meshOf('m', factsOf(100, 80, 60)),
    parts: [],
    dismissals: [],
    joined: [],
    tipsDone: [],
    references: [],
    busyJobId: null,
    ...change,
  }) as never;

export const printerOf = (id: string, profile: Partial<PrinterProfile>): PrinterView => ({
  id,
  profile: { ...parseParams(PrinterProfile, { name: id, ...profile }) },
  retiredAt: null,
  loggedH: 0,
});

export const partOf = (tag: string, change: Partial<PartView> = {}): PartView =>
  ({
    id: `part-${tag}`,
    modelId: 'b',
    tag,
    meshHash: `mesh-${tag}`,
    state: 'planned',
    failedAtMm: null,
    rests: 0,
    canUndoPrint: false,
    canRedoPrint: false,
    rotation: [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
    up: [0, 0, 1],
    heightMm: 60,
    fits: true,
    posed: null,
    printer: '',
    line: [],
    cursor: 0,
    mesh: meshOf(`mesh-${tag}`, factsOf(50, 40, 60)),
    ...change,
  }) as never;

export const referenceOf = (change: Partial<ReferenceView> = {}): ReferenceView => ({
  id: 'r',
  name: 'the heron bearer',
  kind: 'head',
  measures: { girth: 562 },
  landmarks: { nose: [0, -90, 20] },
  meshHash: 'head',
  move: [0, 0, 0],
  turn: [0, 0, 0],
  liningMm: 8,
  wantMm: 2,
  ...change,
});

export const jobOf = (change: Partial<JobView> = {}): JobView => ({
  id: 'j',
  kind: 'line',
  title: 'Hollow',
  projectId: 'p',
  bodyId: 'b',
  batchId: null,
  state: 'running',
  progress: 0,
  phase: 'Working',
  error: null,
  result: null,
  createdAt: '2026-11-20T10:00:00.000Z',
  startedAt: '2026-11-20T10:00:00.000Z',
  endedAt: null,
  ...change,
});

export const sound = { sound: true, volumeChange: 0 };
export const deviation = { maxMm: 0.4, meanMm: 0.1, p95Mm: 0.3, rmsMm: 0.12, samples: 1000 };
