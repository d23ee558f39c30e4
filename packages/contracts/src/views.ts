import type { Finding } from '@jasmorphe/core/inspect/Finding';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import type { Place } from '@jasmorphe/core/trade/placeKinds';
import type { PrintOutcome, PrintState } from '@jasmorphe/core/planning/printState';
import type { PoseName } from '@jasmorphe/core/planning/pose/schools';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import type { ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';
import type { LicenceId } from '@jasmorphe/core/trade/licences';
import type { ErrorBody } from './ErrorBody.ts';
import type { SourceView } from './kitViews.ts';
import type { StepView } from './steps.ts';

export type { ErrorBody };

export type { StepView } from './steps.ts';

export interface MeshView {
  hash: string;
  triangles: number;
  vertices: number;
  bytes: number;
  facts: Inspection;
}

export interface DismissalView {
  code: string;
  reason: string;
  at: string;
}

export interface PartView {
  id: string;
  modelId: string;
  tag: string;
  /** as the divide made it */
  meshHash: string;
  /** of the print of `mesh` */
  state: PrintState;
  /** height at which the last print stopped, mm */
  failedAtMm: number | null;
  /** how many recuts are in force: what is left to print is the rest of the rest ... */
  rests: number;
  canUndoPrint: boolean;
  canRedoPrint: boolean;
  /** rows of the rotation in which it lies on the bed */
  rotation: number[][];
  /** what is up on the printer, in the model's axes */
  up: [number, number, number];
  /** height of `mesh` in that pose, mm */
  heightMm: number;
  fits: boolean;
  /** what the pose that was chosen comes to, for this very mesh; null while it lies as its divide left it */
  posed: { school: PoseName; durationS: number; materialG: number; supportMm3: number } | null;
  /** name of the bed that it was cut for; empty where there was one alone */
  printer: string;
  /** way in which it is moved to be seen apart; the farthest part goes one unit */
  apart: [number, number, number];
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
  landmarks: Record<string, readonly [number, number, number]>;
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
  /** its file within the kit that it came with */
  path: string;
  copies: number;
  colour: string;
  /** why it is not printed; null while it is */
  aside: string | null;
  licence: string;
  terms: LicenceId;
  source: SourceView;
  line: StepView[];
  /** how many steps of the line are in force */
  cursor: number;
  canUndo: boolean;
  canRedo: boolean;
  /** mesh after the last step in force; a divide leaves it whole */
  mesh: MeshView;
  parts: PartView[];
  dismissals: DismissalView[];
  /** keys of the joints that are done on the bench */
  joined: string[];
  /** keys of the support tips of a part that were seen to */
  tipsDone: string[];
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
  /** kinds of pieces; more than one make a kit */
  pieces: number;
  createdAt: string;
  /** day by which it is to be ready to paint */
  dueOn: string | null;
  archivedAt: string | null;
  /** off the shelf since then; it comes back by undo for thirty days */
  removedAt: string | null;
  /** what needs attention, worst first */
  attention: Finding[];
  /** why part of it cannot be shown; null when all is well */
  trouble: string | null;
}

export interface ProjectView {
  id: string;
  name: string;
  note: string;
  createdAt: string;
  updatedAt: string;
  /** day by which it is to be ready to paint */
  dueOn: string | null;
  archivedAt: string | null;
  licence: string;
  terms: LicenceId;
  source: SourceView;
  modelIds: string[];
  models: { id: string; name: string }[];
}

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

/** The phase of a preview that was ended because no page looked at it any more: who looks again asks again. */
export const nobodyLooks = 'Nobody looks at it any more';

export interface JobView {
  id: string;
  kind: 'import' | 'line' | 'replay' | 'preview' | 'sample' | 'reference';
  title: string;
  projectId: string | null;
  bodyId: string | null;
  /** work that it is part of */
  batchId: string | null;
  state: JobState;
  progress: number;
  phase: string;
  error: ErrorBody['error'] | null;
  /** the body that an import made, or the step that a preview worked out */
  result: {
    bodyId?: string;
    stepId?: string;
    atStake?: PrintsAtStake;
    /** number of the line's state that it made */ seq?: number;
  } | null;
  createdAt: string;
  startedAt: string | null;
  endedAt: string | null;
}

export interface PrinterView {
  id: string;
  profile: PrinterProfile;
  /** no longer printed with since then */
  retiredAt: string | null;
  /** hours that it ran by the log, beside those that its profile says */
  loggedH: number;
}

export interface MaterialView {
  id: string;
  name: string;
  kind: 'filament' | 'resin';
  densityGCm3: number;
  pricePerKg: number;
  stockG: number;
  shrinkagePct: number;
  cautions: string;
  /** since when it is no longer printed with */
  retiredAt: string | null;
}

export interface SpoolEntryView {
  id: string;
  kind: 'weighed' | 'used';
  grams: number;
  note: string;
  at: string;
}

export interface SpoolView {
  id: string;
  materialId: string;
  name: string;
  colour: string;
  grossG: number;
  emptyG: number;
  openedOn: string | null;
  whereabouts: string;
  endedAt: string | null;
  /** what is left, g */
  leftG: number;
  /** the same of filament, m; null for a bottle */
  leftM: number | null;
  /** the newest first */
  entries: SpoolEntryView[];
}

/** A body with its measures, for all projects. */
export interface SavedBodyView {
  id: string;
  name: string;
  kind: ReferenceKind;
  measures: Record<string, number>;
}

export interface LogEntryView {
  id: string;
  projectId: string;
  modelId: string;
  partId: string;
  /** the mesh that was on the bed */
  meshHash: string;
  tag: string;
  printerId: string | null;
  outcome: PrintOutcome;
  heightMm: number | null;
  durationS: number | null;
  materialG: number | null;
  note: string;
  /** the entry that this one takes back */
  correctsId: string | null;
  /** the bedful that it was started, or came off, with */
  bedfulId: string | null;
  /** taken back by a later one */
  withdrawn: boolean;
  /** it is what was said last of its mesh, and nothing was built on it */
  canTakeBack: boolean;
  at: string;
}

/** What a change of an earlier step would do to parts that are printed, or on the bed. */
export interface PrintsAtStake {
  /** tags of parts whose prints would be of no use, with what they are now */
  lost: { tag: string; state: PrintState }[];
  /** tags of parts whose mesh stays the same */
  kept: string[];
}

/** A trouble with the data folder that the maker should know of. */
export interface Problem {
  code: string;
  message: string;
  hint: string;
  mended: boolean;
}

/** What the server sends over the event stream. */
export type ServerEvent =
  | { type: 'job'; job: JobView }
  | { type: 'body'; bodyId: string; projectId: string }
  | { type: 'project'; projectId: string }
  /** printers, materials, spools, places, bodies or settings */
  | { type: 'workshop' }
  /** all of it may be another, as after a backup was restored */
  | { type: 'everything' };

/** How the server is. */
export interface Health {
  up: true;
  name: string;
  problems: Problem[];
  /** changes with every build of the page that the server has; null when it serves none */
  page: string | null;
}
