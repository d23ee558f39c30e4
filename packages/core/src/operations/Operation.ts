import type { RunContext } from '../run/context.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import type { Description } from './Description.ts';

/** A file that goes into or comes out of an operation. */
export interface OperationFile {
  name: string;
  mediaType: string;
  bytes: Uint8Array;
}

/** What an operation is given besides its params. */
export interface OperationContext extends RunContext {
  /** the uploaded file, where it takes one */
  source?: OperationFile;
}

export interface OperationResult<Report> {
  outputs: TriMesh[];
  report: Report;
  /** where it makes files */
  files?: OperationFile[];
}

/**
 * How an operation runs. Pure: no files, no database, no clock; the same inputs, params and seed give the same bytes.
 */
export type Run<Params extends object, Report> = (
  inputs: TriMesh[],
  params: Params,
  context: OperationContext,
) => Promise<OperationResult<Report>>;

/** Something that changes or measures meshes: what it is, and how it runs. */
export interface Operation<
  Params extends object = object,
  Report = unknown,
  Name extends string = string,
> extends Description<Name, Params, Report> {
  run: Run<Params, Report>;
}
