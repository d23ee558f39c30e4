import { IsString, Matches, ValidateBy } from 'class-validator';
import { operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';

/** An operation that is to be run, with its params. */
export interface PlannedStep<N extends OperationName = OperationName> {
  operation: N;
  params: object;
}

const isPlain = (v: unknown): v is object => typeof v === 'object' && v !== null && !Array.isArray(v);

const isPlanned = (v: unknown): v is PlannedStep =>
  isPlain(v) && operationNames.includes((v as PlannedStep).operation) && isPlain((v as PlannedStep).params);

/** One or more operations with their params, in the order in which they are run. */
export const IsPlan = (): PropertyDecorator =>
  ValidateBy({
    name: 'isPlan',
    validator: {
      validate: (v) => Array.isArray(v) && v.length > 0 && v.every(isPlanned),
      defaultMessage: (args) => `${args?.property} must list operations with their params`,
    },
  });

/** Hashes of meshes. */
export const IsHashes = (): PropertyDecorator => Matches(/^[0-9a-f]{64}$/, { each: true });

/** The hash of a file or a mesh. */
export const IsHash = (): PropertyDecorator => Matches(/^[0-9a-f]{64}$/);

/** The id of a project, a model or a part. */
export const IsId = (): PropertyDecorator => IsString();
