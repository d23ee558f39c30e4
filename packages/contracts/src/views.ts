import type { Inspection } from '@jasmorphe/core/mesh/inspect';
import type { OperationName } from '@jasmorphe/core/operations/registry';
import type { Place } from '@jasmorphe/core/planning/places';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import type { ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';

/** The one shape of every error. */
export interface ErrorBody {
  error: { code: string; message: string; hint: string; field?: string };
}

export interface MeshView {
  hash: string;
  triangles: number;
  vertices: number;
  bytes: number;
  facts: Inspection;
}

export interface StepView {
  id: string;
  operation: OperationName;
  version: number;
  params: Record<string, unknown>;
  inputs: string[];
  outputs: string[];
  report: unknown;
  elapsedMs: number;
  createdAt: string;
}

export interface DismissalView {
  code: string;
  reason: string;
  at: string;
}

export type PartState = 'planned' | 'printing' | 'printed' | 'failed';

export interface PartView {
  id: string;
  modelId: string;
  tag: string;
  meshHash: string;
  state: PartState;
  /** height at which the last print stopped, mm */
  failedAtMm: number | null;
  /** steps after the divide, such as a recut */
  line: StepView[];
  cursor: number;
  mesh: MeshView;
}

/** A body to size by, and where it stands in the model. Never printed. */
export interface ReferenceView {
  id: string;
  name: string;
  kind: ReferenceKind | 'scan';
  measures: Record<string, number>;
  landmarks: Record<string, [number, number, number]>;
  meshHash: string;
  /** mm */
  move: [number, number, number];
  /** degrees about x, then y, then z */
  turn: [number, number, number];
  liningMm: number;
  wantMm: number;
}

export interface PlaceView extends Place {
  id: string;
}

/** A model, or a part of one: whatever has a line of its own. */
export interface BodyView {
  id: string;
  kind: 'model' | 'part';
  projectId: string;
  modelId: string;
  name: string;
  sourceName: string;
  licence: string;
  line: StepView[];
  /** how many steps of the line are in force */
  cursor: number;
  canUndo: boolean;
  canRedo: boolean;
  /** mesh after the last step in force; a divide leaves it whole */
  mesh: MeshView;
  parts: PartView[];
  dismissals: DismissalView[];
  /** bodies that the model is sized by */
  references: ReferenceView[];
  /** a job that is changing this line now */
  busyJobId: string | null;
}

export interface ProjectSummary {
  id: string;
  name: string;
  note: string;
  updatedAt: string;
  models: { id: string; name: string; meshHash: string; sizeMm: { x: number; y: number; z: number }; stage: string }[];
  parts: number;
  printed: number;
  /** what needs attention, worst first */
  attention: string[];
}

export interface ProjectView {
  id: string;
  name: string;
  note: string;
  createdAt: string;
  updatedAt: string;
  modelIds: string[];
}

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export interface JobView {
  id: string;
  kind: 'import' | 'line' | 'preview' | 'sample' | 'reference';
  title: string;
  projectId: string | null;
  bodyId: string | null;
  state: JobState;
  progress: number;
  phase: string;
  error: ErrorBody['error'] | null;
  /** the body that an import made, or the step that a preview worked out */
  result: { bodyId?: string; stepId?: string } | null;
  createdAt: string;
  startedAt: string | null;
  endedAt: string | null;
}

export interface PrinterView {
  id: string;
  profile: PrinterProfile;
}

export interface MaterialView {
  id: string;
  name: string;
  kind: 'filament' | 'resin';
  densityGCm3: number;
  pricePerKg: number;
  stockG: number;
}

export interface LogEntryView {
  id: string;
  projectId: string;
  partId: string;
  tag: string;
  printerId: string | null;
  outcome: 'started' | 'passed' | 'failed';
  heightMm: number | null;
  durationS: number | null;
  materialG: number | null;
  note: string;
  at: string;
}

/** What the server sends over the event stream. */
export type ServerEvent =
  | { type: 'job'; job: JobView }
  | { type: 'body'; bodyId: string; projectId: string }
  | { type: 'project'; projectId: string };
