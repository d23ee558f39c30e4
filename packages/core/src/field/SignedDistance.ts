import { Bvh, newHit, type NearestHit } from '../mesh/Bvh.ts';
import { WindingTree } from '../mesh/WindingTree.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';

/** Depth under the surface of a mesh: positive inside, by the generalised winding number, so holes do no harm. */
export class SignedDistance {
  readonly tree: Bvh;
  private readonly winding: WindingTree;
  private readonly hit: NearestHit = newHit();

  /**
   * @param mesh decides what is inside
   * @param surface triangles of `mesh` that distances are measured to; all, if left out
   */
  constructor(mesh: TriMesh, surface?: Uint32Array) {
    const all = new Bvh(mesh);
    this.tree = surface ? new Bvh(mesh, surface) : all;
    this.winding = new WindingTree(all);
  }

  /** Unsigned distance, mm, or `limit` when nothing lies nearer. */
  distance(x: number, y: number, z: number, limit: number): number {
    return Math.min(limit, this.tree.nearest(x, y, z, limit, this.hit).distance);
  }

  inside(x: number, y: number, z: number): boolean {
    return this.winding.at(x, y, z) > 0.5;
  }
}
