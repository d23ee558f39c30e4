import type { ErrorBody, JobView } from '@jasmorphe/contracts/views';
import { readInspection, type Inspection } from '@jasmorphe/core/inspect/Inspection';
import { descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { readReport, type Description } from '@jasmorphe/core/operations/Description';
import { readKept } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { Settings } from '@jasmorphe/contracts/workshopRequests';
import { readPayload, type JobKindName, type PayloadOf } from './payloads.ts';
import { StoreError } from './troubles.ts';

/**
 * What stands as JSON in a column, by its kind: fields that came later have their defaults, and what a newer version made is refused
 * where it would be taken for something that it is not. What packs hold is checked where it comes in, before these read it.
 */
interface Codec<T, By extends unknown[] = []> {
  /** @throws StoreError `database-newer` */
  read: (kept: unknown, ...by: By) => T;
}

const codec = <T, By extends unknown[] = []>(read: (kept: unknown, ...by: By) => T): Codec<T, By> => ({ read });

/** The step that params or a report are of. */
interface OfStep {
  operation: string;
  version: number;
}

/** Null for an operation that there is no more. @throws StoreError `database-newer` */
function descriptionAt({ operation, version }: OfStep): Description | null {
  const description = (descriptionOf(operation as OperationName) as Description | undefined) ?? null;
  if (description !== null && version > description.version)
    throw new StoreError('database-newer', `a step of "${operation}" of version ${version}`);
  return description;
}

export const codecs = {
  /** of a mesh; what another version found, an earlier or a later one, is shown as it is and looked for again */
  facts: codec((kept): Inspection => readInspection(kept)),
  /** of a step; of an operation that there is no more they are as they were kept */
  params: codec((kept, step: OfStep): object => {
    const description = descriptionAt(step);
    return description ? { ...readKept(description.params, kept) } : (kept as object);
  }),
  report: codec((kept, step: OfStep): unknown => {
    const description = descriptionAt(step);
    return description ? readReport(description, kept) : kept;
  }),
  /** of a job. @throws MeshError `bad-params` where it is none of its kind */
  payload: { read: <K extends JobKindName>(kept: unknown, kind: K): PayloadOf<K> => readPayload(kind, kept) },
  /** why a job failed */
  error: codec((kept): ErrorBody['error'] | null => (kept as ErrorBody['error'] | null) ?? null),
  /** what a job came to */
  result: codec((kept): JobView['result'] => (kept as JobView['result']) ?? null),
  /** of a printer */
  profile: codec((kept): PrinterProfile => readKept(PrinterProfile, kept)),
  /** of the workshop; the other row of that table is what `lineage.ts` knows a folder by */
  setting: codec((kept): Settings => readKept(Settings, kept)),
} as const;
