import { validateSync, type ValidationError } from 'class-validator';
import type { RunContext } from '../mesh/context.ts';
import { MeshError } from '../mesh/MeshError.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';

/** A file that goes into or comes out of an operation. */
export interface OperationFile {
  name: string;
  mediaType: string;
  bytes: Uint8Array;
}

/** What an operation is given besides its params. */
export interface OperationContext extends RunContext {
  /** the uploaded file, for `import` alone */
  source?: OperationFile;
}

export interface OperationResult<Report> {
  outputs: TriMesh[];
  report: Report;
  /** for `export` alone */
  files?: OperationFile[];
}

/**
 * Something that changes meshes. Pure: no files, no database, no clock; the same inputs, params and seed give the
 * same bytes.
 */
export interface Operation<Params extends object, Report> {
  /** the word on the command line, in the ledger and in the API */
  name: string;
  /** raise it when the same params would now give another result, so that stored steps are not mistaken for it */
  version: number;
  /** one line for the forms, the command line and the API description */
  summary: string;
  params: new () => Params;
  /** measures or shows only: it cannot stand in a line, and what it makes is never printed */
  study?: true;
  /** hashes of further meshes that the params name; they come after the body's own among the inputs */
  companions?(params: Params): string[];
  run(inputs: TriMesh[], params: Params, context: OperationContext): Promise<OperationResult<Report>>;
}

/** First failed check of a validation, as one sentence and the path of its field. */
export function firstProblem(errors: ValidationError[], path = ''): { field: string; message: string } {
  const error = errors[0];
  const field = path ? `${path}.${error.property}` : error.property;
  if (error.constraints) {
    if (error.constraints.whitelistValidation) return { field, message: `There is no field "${field}"` };
    const message = Object.values(error.constraints)[0];
    return { field, message: message.charAt(0).toUpperCase() + message.slice(1) };
  }
  return error.children?.length ? firstProblem(error.children, field) : { field, message: `${field} is not valid` };
}

/**
 * Makes a params object of `Params` from plain JSON and checks it; unknown fields are refused.
 *
 * @throws MeshError `bad-params` with the field that is wrong
 */
export function parseParams<Params extends object>(Params: new () => Params, plain: unknown): Params {
  if (plain !== undefined && (plain === null || typeof plain !== 'object' || Array.isArray(plain)))
    throw new MeshError('bad-params', 'The parameters must be an object.', 'Send JSON such as {"wall": 3}.');
  const params = new Params();
  for (const [key, value] of Object.entries((plain as object) ?? {}))
    if (value !== undefined && value !== null) {
      if (key === '__proto__' || key === 'constructor')
        throw new MeshError('bad-params', `${key} is no parameter.`, '', key);
      (params as Record<string, unknown>)[key] = value;
    }
  const errors = validateSync(params, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  if (errors.length > 0) {
    const { field, message } = firstProblem(errors);
    throw new MeshError('bad-params', `${message}.`, 'Nothing was changed.', field);
  }
  return params;
}
