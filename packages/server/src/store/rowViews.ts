import { readInspection } from '@jasmorphe/core/inspect/Inspection';
import type { MeshView, StepView } from '@jasmorphe/contracts/views';
import type { meshes, steps } from './schema.ts';

export type StepRow = typeof steps.$inferSelect;

export const stepView = (row: StepRow): StepView => ({ ...row }) as unknown as StepView;

export const meshView = (row: typeof meshes.$inferSelect): MeshView => ({
  hash: row.hash,
  triangles: row.triangles,
  vertices: row.vertices,
  bytes: row.bytes,
  facts: readInspection(row.facts),
});
