import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';

export const referenceKinds = ['head', 'hand', 'standing', 'seated'] as const;
export type ReferenceKind = (typeof referenceKinds)[number];

/**
 * A body to size things by. It faces -y, its left is +x, up is +z. Never printed.
 */
export interface ReferenceBody {
  /** closed, facing out, free of crossings */
  mesh: TriMesh;
  /** named points, mm */
  landmarks: Record<string, Vec3>;
  /** a point of the skin counts to the region whose middle is nearest */
  regions: { name: string; at: Vec3 }[];
}
