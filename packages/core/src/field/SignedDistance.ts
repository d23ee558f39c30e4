import { Bvh, newHit, treeOf, type NearestHit } from '../mesh/Bvh.ts';
import { windingOf, type WindingTree } from '../mesh/WindingTree.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';

/** Depth under the surface of a mesh: positive inside, by the generalised winding number, so holes do no harm. */
export class SignedDistance {
  readonly tree: Bvh;
  private readonly winding: WindingTree;
  private readonly hit: NearestHit = newHit();
  /** the point last measured */
  private readonly asked = new Float64Array(3);

  /**
   * @param mesh decides what is inside
   * @param surface triangles of `mesh` that distances are measured to; all, if left out
   */
  constructor(mesh: TriMesh, surface?: Uint32Array) {
    this.tree = surface ? new Bvh(mesh, surface) : treeOf(mesh);
    this.winding = windingOf(mesh);
  }

  /** Unsigned distance, mm, or `limit` when nothing lies nearer. */
  distance(x: number, y: number, z: number, limit: number): number {
    this.asked[0] = x;
    this.asked[1] = y;
    this.asked[2] = z;
    return Math.min(limit, this.tree.nearest(x, y, z, limit, this.hit).distance);
  }

  /**
   * `inside` for a mesh known to be closed, outward and free of crossings. Where the point last measured is nearest to
   * the middle of a face, the side of that face decides, which costs next to nothing; at edges and corners the winding
   * number does.
   */
  insideOfSound(x: number, y: number, z: number): boolean {
    const { hit, asked } = this;
    if (hit.triangle >= 0 && asked[0] === x && asked[1] === y && asked[2] === z) {
      const { positions: p, triangles } = this.tree.mesh;
      const a = 3 * triangles[3 * hit.triangle];
      const b = 3 * triangles[3 * hit.triangle + 1];
      const c = 3 * triangles[3 * hit.triangle + 2];
      const ux = p[b] - p[a];
      const uy = p[b + 1] - p[a + 1];
      const uz = p[b + 2] - p[a + 2];
      const vx = p[c] - p[a];
      const vy = p[c + 1] - p[a + 1];
      const vz = p[c + 2] - p[a + 2];
      const nx = uy * vz - uz * vy;
      const ny = uz * vx - ux * vz;
      const nz = ux * vy - uy * vx;
      const nn = nx * nx + ny * ny + nz * nz;
      const [qx, qy, qz] = hit.point;
      const wx = qx - p[a];
      const wy = qy - p[a + 1];
      const wz = qz - p[a + 2];
      // shares of the corners b and c in the nearest point
      const t = ((uy * wz - uz * wy) * nx + (uz * wx - ux * wz) * ny + (ux * wy - uy * wx) * nz) / nn;
      const s = ((wy * vz - wz * vy) * nx + (wz * vx - wx * vz) * ny + (wx * vy - wy * vx) * nz) / nn;
      if (s > 1e-4 && t > 1e-4 && s + t < 1 - 1e-4) {
        const side = (x - qx) * nx + (y - qy) * ny + (z - qz) * nz;
        // a nearest point in a face is reached square to it; anything else is rounding on a sliver
        if (Math.abs(side) > 0.9 * hit.distance * Math.sqrt(nn) && hit.distance > 0) return side < 0;
      }
    }
    return this.inside(x, y, z);
  }

  inside(x: number, y: number, z: number): boolean {
    return this.winding.at(x, y, z) > 0.5;
  }
}
