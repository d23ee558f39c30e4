import { selfIntersections, type Crossings } from '../mesh/selfIntersections.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import type { PieceName } from '../run/context.ts';
import { refusalOf } from '../solid/refusal.ts';

/** Work that can be done beside other work, on another thread: plain data in, plain data out. */
export const pieces = {
  crossings: (mesh: TriMesh): Crossings => selfIntersections(mesh),
  refusal: (mesh: TriMesh): Promise<string | null> => refusalOf(mesh),
} satisfies Record<PieceName, (mesh: TriMesh) => unknown>;
