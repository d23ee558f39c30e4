import { IsBoolean, IsIn, IsInt, IsObject, IsOptional, IsString, Min, ValidateBy } from 'class-validator';
import { descriptionOf, operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';
import type { Description } from '@jasmorphe/core/operations/Description';
import { parseParams, readKept } from '@jasmorphe/core/params/parseParams';
import { referenceKinds, type ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';
import { IsHash, IsHashes, IsId, IsPlan, type PlannedStep } from './payloadChecks.ts';
import type { jobs } from './schema.ts';

/** A file that is read into a model. */
export class ImportPayload {
  @IsId()
  projectId: string;

  @IsHash()
  sourceHash: string;

  @IsString()
  fileName: string;

  /** its path within the kit that it came with */
  @IsOptional()
  @IsString()
  path: string = '';

  @IsOptional()
  @IsInt()
  @Min(1)
  copies: number = 1;

  @IsString()
  licence: string = '';

  @IsObject()
  params: Record<string, unknown> = {};

  /** objects that the file keeps apart become models of their own */
  @IsOptional()
  @IsIn(['apart', 'together'])
  objects: 'apart' | 'together' = 'together';
}

/** A change of a line. */
export class LinePayload {
  @IsId()
  bodyId: string;

  /** steps before this one stay; the planned ones follow */
  @IsInt()
  @Min(0)
  from: number;

  @IsPlan()
  planned: PlannedStep[];

  /** another file in the place of the model's own */
  @IsOptional()
  @IsObject()
  source?: { hash: string; name: string };

  /** prints may come to be of no use by it */
  @IsOptional()
  @IsBoolean()
  lose: boolean = false;
}

/** A step that is worked out without being added to a line. */
export class PreviewPayload {
  @IsId()
  bodyId: string;

  @IsHashes()
  inputs: string[] = [];

  @IsIn(operationNames)
  operation: OperationName;

  @IsObject()
  params: object = {};
}

/** A test piece. */
export class SamplePayload {
  @IsId()
  bodyId: string;

  /** the mesh that it is cut from */
  @IsHash()
  input: string;

  @IsObject()
  params: Record<string, unknown> = {};
}

export interface Measured {
  kind: ReferenceKind;
  measures: Record<string, number>;
}

export interface Scanned {
  sourceHash: string;
  fileName: string;
  unit: string;
}

/** A kind of body with its measures, or the source of a scan. */
export type MadeOf = Measured | Scanned;

const isMadeOf = (v: unknown): v is MadeOf => {
  if (typeof v !== 'object' || v === null) return false;
  if ('kind' in v) return referenceKinds.includes(v.kind as ReferenceKind) && 'measures' in v;
  return ['sourceHash', 'fileName', 'unit'].every((k) => typeof (v as Record<string, unknown>)[k] === 'string');
};

/** A body to size a model by. */
export class ReferencePayload {
  @IsId()
  modelId: string;

  @IsString()
  name: string;

  @ValidateBy({
    name: 'isMadeOf',
    validator: { validate: isMadeOf, defaultMessage: () => 'made must be a kind with its measures, or a file' },
  })
  made: MadeOf;
}

/** Files that something on record cannot be done without, by their hashes. */
export interface Needed {
  meshes?: readonly string[];
  sources?: readonly string[];
}

/** Meshes besides the body's own that a step names in its params, as its operation tells. */
function companionsOf({ operation, params }: PlannedStep): string[] {
  const description: Description = descriptionOf(operation);
  return description.companions?.(readKept(description.params, params)) ?? [];
}

/** All inputs of a step, in their order: the mesh that it works on, if it does on one, and its companions. */
export const inputsOf = (planned: PlannedStep, mesh: string): string[] => [mesh, ...companionsOf(planned)];

/** What jobs of a kind are given. */
interface Payload<P extends object> {
  Class: new () => P;
  /** what is kept for as long as one waits or runs, besides the lines of bodies */
  needs: (payload: P) => Needed;
}
const payload = <P extends object>(Class: new () => P, needs: (payload: P) => Needed): Payload<P> => ({ Class, needs });

const ofLine = payload(LinePayload, ({ planned, source }) => ({
  meshes: planned.flatMap(companionsOf),
  sources: source ? [source.hash] : [],
}));

/** By the kind of job. */
export const payloads = {
  import: payload(ImportPayload, ({ sourceHash }) => ({ sources: [sourceHash] })),
  line: ofLine,
  replay: ofLine,
  preview: payload(PreviewPayload, ({ inputs }) => ({ meshes: inputs })),
  sample: payload(SamplePayload, ({ input }) => ({ meshes: [input] })),
  reference: payload(ReferencePayload, ({ made }) => ({ sources: 'sourceHash' in made ? [made.sourceHash] : [] })),
} satisfies Record<JobKindName, unknown>;

export type JobKindName = (typeof jobs.$inferSelect)['kind'];
export type PayloadOf<K extends JobKindName> = InstanceType<(typeof payloads)[K]['Class']>;

const payloadOf = (kind: JobKindName): Payload<object> => payloads[kind] as unknown as Payload<object>;

/** A payload as it is asked for. @throws MeshError `bad-params` where it is none of its kind */
export const checkPayload = <K extends JobKindName>(kind: K, given: object): PayloadOf<K> =>
  parseParams(payloadOf(kind).Class, given) as PayloadOf<K>;

/** A payload as it was kept: it may have been asked for before a field came. @throws MeshError `bad-params` where it is none of its kind */
export function readPayload<K extends JobKindName>(kind: K, kept: unknown): PayloadOf<K> {
  const { Class } = payloadOf(kind);
  return parseParams(Class, readKept(Class, kept)) as PayloadOf<K>;
}

/** What a job that waits or runs cannot be done without; nothing where its payload cannot be read, since it will fail. */
export function neededBy(kind: JobKindName, kept: unknown): Needed {
  try {
    return payloadOf(kind).needs(readPayload(kind, kept));
  } catch {
    return {};
  }
}
