import type { Finding } from '@jasmorphe/core/inspect/Finding';
import type { KitFrame } from '@jasmorphe/core/kit/frame';
import type { KitUnit } from '@jasmorphe/core/kit/kitUnit';
import type { VariantGroup } from '@jasmorphe/core/kit/variants';
import type { StatedUnit } from '@jasmorphe/core/formats/units';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { Stop } from '@jasmorphe/core/operations/Description';
import type { StepView } from './steps.ts';
import type { ErrorBody } from './ErrorBody.ts';

/** Where a work came from. */
export interface SourceView {
  from?: string;
  by?: string;
  address?: string;
  date?: string;
}

/** A file of a kit, as the kit's table shows it. */
export interface PieceView {
  id: string;
  name: string;
  /** its file within the kit */
  path: string;
  copies: number;
  colour: string;
  /** why it is not printed; null while it is */
  aside: string | null;
  meshHash: string;
  triangles: number;
  /** mm */
  min: { x: number; y: number; z: number };
  max: { x: number; y: number; z: number };
  size: { x: number; y: number; z: number };
  watertight: boolean;
  /** the worst finding that was not set aside */
  worst: Finding | null;
  findings: number;
  /** the last stop of the route at which something was done */
  stop: Stop;
  parts: number;
  printed: number;
  /** what its file was read in */
  unit: StatedUnit;
  unitFrom: 'file' | 'guess' | 'given';
  /** its terms keep altered files from being passed on */
  keptBack: boolean;
  busyJobId: string | null;
}

/** A file that could not be read, with why. */
export interface RefusedFile {
  file: string;
  message: string;
}

/** Work asked for at once. */
export interface BatchView {
  id: string;
  projectId: string;
  kind: 'import' | 'line' | 'preview';
  /** what is run on each; null for the files of a kit */
  operation: OperationName | null;
  title: string;
  total: number;
  done: number;
  failed: number;
  cancelled: number;
  /** those that wait or run */
  open: number;
  /** of all of it, 0 to 1 */
  progress: number;
  refused: RefusedFile[];
  canUndo: boolean;
  undoneAt: string | null;
  createdAt: string;
}

/** All pieces of a project, as one job. */
export interface KitView {
  projectId: string;
  pieces: PieceView[];
  /** forms of one thing, as it seems; `decided` once the maker has said which of them are printed */
  variants: (VariantGroup & { decided: boolean })[];
  unit: KitUnit | null;
  /** pieces that were read in another unit than the kit's, by guess */
  oddUnits: string[];
  frame: KitFrame;
  /** how far each piece is moved when all are shown together, mm, in the order of the pieces */
  moves: [number, number, number][];
  /** why part of it is not here; null when all is */
  trouble: string | null;
  batches: BatchView[];
}

/** What a drop of files came to. */
export interface KitDrop {
  /** the work of reading them; null where there is nothing to read */
  batch: BatchView | null;
  /** files that are pieces already: same bytes */
  known: { file: string; bodyId: string; name: string }[];
  /** files of a known name with new bytes: may take the place of the piece's file */
  versions: { file: string; sourceHash: string; bodyId: string; name: string }[];
  refused: RefusedFile[];
  /** pictures and notes that lay beside the meshes and were kept */
  kept: number;
}

/** What an operation gives on one of many pieces. */
export interface BatchAnswer {
  bodyId: string;
  name: string;
  state: 'waiting' | 'done' | 'failed' | 'cancelled';
  step: StepView | null;
  error: ErrorBody['error'] | null;
}

export interface BatchAnswers {
  batch: BatchView;
  operation: OperationName;
  answers: BatchAnswer[];
}

/** A photo or a note. */
export interface AttachmentView {
  id: string;
  projectId: string;
  bodyId: string | null;
  kind: 'photo' | 'note';
  text: string;
  /** where the picture is fetched; null for a note */
  hash: string | null;
  mediaType: string;
  name: string;
  createdAt: string;
}

/** What a backup holds. */
export interface BackupView {
  folder: string;
  madeAt: string;
  projects: number;
  models: number;
  meshes: number;
  /** of all files */
  bytes: number;
  /** files that were not there from an earlier backup */
  copied: number;
  /** files of the data folder that were damaged or missing, and were fetched back from this backup */
  mended: number;
  /** files that are damaged or missing, and that no copy is of: the backup is without them */
  damaged: number;
}
