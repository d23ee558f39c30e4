import { treeOf, type Bvh, type NearestHit } from '../mesh/Bvh.ts';
import { soundSideOf, type SoundSide } from '../mesh/SoundSide.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { windingOf, type WindingTree } from '../mesh/WindingTree.ts';

/** Skin farther from the body than this is not around it, mm. */
export const reachMm = 400;

/** A body that pieces are held against, prepared once. */
export class WornBody {
  readonly tree: Bvh;
  private readonly winding: WindingTree | null;
  private readonly side: SoundSide | null;

  /**
   * Do gaps change by no more than a point moves? Of a body that is open they jump where its inside ends without skin.
   */
  get isSteady(): boolean {
    return this.winding === null;
  }

  /** @param sound is it closed and free of crossings? Then its sides decide what is inside, else the winding number. */
  constructor(
    readonly mesh: TriMesh,
    sound: boolean,
  ) {
    this.tree = treeOf(mesh);
    this.winding = sound ? null : windingOf(mesh);
    this.side = sound ? soundSideOf(mesh) : null;
  }

  /**
   * Is a point within the body?
   *
   * @param hit what of the body is nearest to it
   */
  within(x: number, y: number, z: number, hit: NearestHit): boolean {
    return this.winding ? this.winding.at(x, y, z) > 0.5 : this.side!.inside(x, y, z, hit);
  }

  /**
   * Signed distance, mm: negative within; `reachMm` where the body is farther.
   *
   * @param outside it is known to be outside
   */
  gap(x: number, y: number, z: number, hit: NearestHit, outside = false): number {
    const d = this.tree.nearest(x, y, z, reachMm, hit, hit.triangle).distance;
    if (!(d < reachMm)) return reachMm;
    return !outside && this.within(x, y, z, hit) ? -d : d;
  }
}
