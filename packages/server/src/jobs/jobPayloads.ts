import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';

/** What each kind of job is given. Hashes in it keep their files from being collected while it waits. */
export interface ImportPayload {
  projectId: string;
  sourceHash: string;
  fileName: string;
  licence: string;
  params: Record<string, unknown>;
  /** objects that the file keeps apart become models of their own; together if left out */
  objects?: 'apart' | 'together';
}

export interface Planned<N extends OperationName = OperationName> {
  operation: N;
  params: object;
}

export interface LinePayload {
  bodyId: string;
  /** steps before this one stay; the planned ones follow */
  from: number;
  planned: Planned[];
}

export interface PreviewPayload extends Planned {
  bodyId: string;
  inputs: string[];
}

export interface SamplePayload {
  bodyId: string;
  input: string;
  params: Record<string, unknown>;
}

export interface ReferencePayload {
  modelId: string;
  name: string;
  /** a kind of body with its measures, or the source of a scan */
  made:
    { kind: ReferenceKind; measures: Record<string, number> } | { sourceHash: string; fileName: string; unit: string };
}
