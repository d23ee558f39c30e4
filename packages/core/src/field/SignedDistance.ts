import { Bvh, newHit, treeOf, type NearestHit } from '../mesh/Bvh.ts';
import { soundSideOf, type SoundSide } from '../mesh/SoundSide.ts';
import { triangleCentre } from '../mesh/measures.ts';
import { windingOf } from '../mesh/WindingTree.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';

/** Depth under the surface of a mesh: positive inside, by the generalised winding number, so holes do no harm. */
export class SignedDistance {
  readonly tree: Bvh;
  /** distances are to all of the mesh */
  private readonly all: boolean;
  private readonly hit: NearestHit = newHit();
  private readonly other: NearestHit = newHit();
  /** flags of triangles that cross others; null in a sound mesh */
  private crossed: Uint8Array | null = null;
  /** per triangle: 0 not asked yet, else 4 and its sides */
  private known = new Uint8Array(0);
  /** the point last measured */
  private readonly asked = new Float64Array(3);

  /**
   * @param mesh decides what is inside
   * @param surface triangles of `mesh` that distances are measured to; all, if left out
   */
  constructor(mesh: TriMesh, surface?: Uint32Array) {
    this.tree = surface ? new Bvh(mesh, surface) : treeOf(mesh);
    this.all = surface === undefined;
  }

  private get side(): SoundSide {
    return soundSideOf(this.tree.mesh);
  }

  /** Unsigned distance, mm, or `limit` when nothing lies nearer. */
  distance(x: number, y: number, z: number, limit: number): number {
    this.asked[0] = x;
    this.asked[1] = y;
    this.asked[2] = z;
    return Math.min(limit, this.tree.nearest(x, y, z, limit, this.hit).distance);
  }

  /**
   * `inside` by the side of what is nearest, which costs the same whatever the shapes of the triangles. Right after
   * `distance` of the same point it costs next to nothing.
   *
   * In a mesh that is closed, outward and free of crossings one side of every triangle is inside. Where shells lie in one
   * another or cross, both sides of a triangle may be: that is the same all over a triangle which nothing crosses, so the
   * winding number is asked once for each of these, and anew at each point only next to those that are crossed.
   */
  insideByNearest(x: number, y: number, z: number): boolean {
    const { hit, asked } = this;
    const measured = this.all && hit.triangle >= 0 && asked[0] === x && asked[1] === y && asked[2] === z;
    const nearest = measured ? hit : treeOf(this.tree.mesh).nearest(x, y, z, Infinity, this.other);
    const behind = nearest.distance > 0 && this.side.inside(x, y, z, nearest);
    if (!this.crossed) return behind;
    if (this.crossed[nearest.triangle]) return this.inside(x, y, z);
    const sides = this.sidesOf(nearest.triangle);
    return (sides & (behind ? 2 : 1)) !== 0;
  }

  /** Says which triangles cross others, so that `insideByNearest` need not take the mesh for sound. */
  noteCrossed(crossed: Uint8Array): void {
    this.crossed = crossed;
    this.known = new Uint8Array(crossed.length);
  }

  /** 1 when the front of a triangle is inside the mesh, 2 when its back is. */
  private sidesOf(t: number): number {
    const { mesh } = this.tree;
    if (this.known[t] === 0) {
      // with the triangle left out the mean of its two sides remains, which are one apart
      const mean = windingOf(mesh).at(...triangleCentre(mesh, t), t);
      this.known[t] = 4 | (mean - 0.5 > 0.5 ? 1 : 0) | (mean + 0.5 > 0.5 ? 2 : 0);
    }
    return this.known[t] & 3;
  }

  inside(x: number, y: number, z: number): boolean {
    return windingOf(this.tree.mesh).at(x, y, z) > 0.5;
  }
}
