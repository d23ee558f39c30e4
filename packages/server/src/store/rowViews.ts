import type { MeshView, StepView } from '@jasmorphe/contracts/views';
import { codecs } from './codecs.ts';
import type { meshes, steps } from './schema.ts';

export type StepRow = typeof steps.$inferSelect;

/** A step with its params and report as the present version knows them. */
export function stepView(row: StepRow): StepView {
  const { params, report, ...rest } = row;
  return { ...rest, params: codecs.params.read(params, row), report: codecs.report.read(report, row) } as StepView;
}

export const meshView = (row: typeof meshes.$inferSelect): MeshView => ({
  hash: row.hash,
  triangles: row.triangles,
  vertices: row.vertices,
  bytes: row.bytes,
  facts: codecs.facts.read(row.facts),
});
