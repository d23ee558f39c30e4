import type { Inspection } from '@jasmorphe/core/inspect/Inspection';

/** A mesh that was put into the store, and what was found out about it. */
export interface StoredMesh {
  hash: string;
  triangles: number;
  vertices: number;
  bytes: number;
  facts: Inspection;
}
