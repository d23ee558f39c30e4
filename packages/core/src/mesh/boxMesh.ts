import type { TriMesh, Vec3 } from './TriMesh.ts';

/** A box with a corner at the origin, as a closed mesh facing out. */
export function boxMesh([x, y, z]: Vec3): TriMesh {
  const corner = (i: number): number[] => [i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0];
  return {
    positions: Float32Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap(corner)),
    // oxfmt-ignore
    triangles: Uint32Array.of(
      0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4,
      2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5,
    ),
  };
}
