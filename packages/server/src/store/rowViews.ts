import { readInspection } from '@jasmorphe/core/inspect/Inspection';
import { descriptionOf, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { readReport, type Description } from '@jasmorphe/core/operations/Description';
import { readKept } from '@jasmorphe/core/params/parseParams';
import type { MeshView, StepView } from '@jasmorphe/contracts/views';
import type { meshes, steps } from './schema.ts';

export type StepRow = typeof steps.$inferSelect;

/** A step with its params and report as the present version knows them. */
export function stepView(row: StepRow): StepView {
  const description = descriptionOf(row.operation as OperationName) as Description | undefined;
  // of an operation that there is no more: as it was kept
  if (!description) return row as unknown as StepView;
  const { params, report, ...rest } = row;
  return {
    ...rest,
    params: { ...readKept(description.params, params) },
    report: readReport(description, report),
  } as unknown as StepView;
}

export const meshView = (row: typeof meshes.$inferSelect): MeshView => ({
  hash: row.hash,
  triangles: row.triangles,
  vertices: row.vertices,
  bytes: row.bytes,
  facts: readInspection(row.facts),
});
