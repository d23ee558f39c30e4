import { treeOf, type Bvh, type NearestHit } from '../mesh/Bvh.ts';
import { triangleCount, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import { windingOf, type WindingTree } from '../mesh/WindingTree.ts';
import { twinsOf } from '../mesh/edges.ts';
import { triangleNormal } from '../mesh/measures.ts';
import { cross, dot } from '../mesh/transform.ts';

/** Skin farther from the body than this is not around it, mm. */
export const reachMm = 400;

/** A body that pieces are held against, prepared once. */
export class WornBody {
  readonly tree: Bvh;
  private readonly winding: WindingTree | null;
  private readonly twin: Int32Array;
  /** of vertices, weighted by the angles of the triangles around them */
  private readonly corner: Float32Array;

  /** @param sound is it closed and free of crossings? Then its sides decide what is inside, else the winding number. */
  constructor(
    readonly mesh: TriMesh,
    sound: boolean,
  ) {
    this.tree = treeOf(mesh);
    this.winding = sound ? null : windingOf(mesh);
    this.twin = twinsOf(mesh);
    this.corner = sound ? angleNormals(mesh) : new Float32Array(0);
  }

  /**
   * Is a point within the body? Told by the side of what is nearest: a face, or the sum of the normals at an edge, or at a
   * corner their sum weighted by angles, which is right for any closed mesh (Bærentzen and Aanæs 2005).
   *
   * @param hit what of the body is nearest to it
   */
  within(x: number, y: number, z: number, hit: NearestHit): boolean {
    if (this.winding) return this.winding.at(x, y, z) > 0.5;
    const { triangles, positions: p } = this.mesh;
    const t = hit.triangle;
    const [qx, qy, qz] = hit.point;
    let n: readonly number[] = triangleNormal(this.mesh, t);
    // distance of the nearest point from each side, as a share of the triangle's height there
    const shares = [0, 1, 2].map((k) => {
      const a = 3 * triangles[3 * t + k];
      const b = 3 * triangles[3 * t + ((k + 1) % 3)];
      const c = 3 * triangles[3 * t + ((k + 2) % 3)];
      return sideArea(p, a, b, qx, qy, qz) / sideArea(p, a, b, p[c], p[c + 1], p[c + 2]);
    });
    const near = [0, 1, 2].filter((k) => shares[k] < 1e-5);
    if (near.length === 1) {
      const other = this.twin[3 * t + near[0]];
      if (other >= 0) {
        const m = triangleNormal(this.mesh, (other / 3) | 0);
        n = [n[0] + m[0], n[1] + m[1], n[2] + m[2]];
      }
    } else if (near.length > 1) {
      // two sides that meet in a corner: side k runs from corner k to k + 1
      const k = near.includes(0) && near.includes(1) ? 1 : near.includes(1) ? 2 : 0;
      const v = 3 * triangles[3 * t + k];
      n = [this.corner[v], this.corner[v + 1], this.corner[v + 2]];
    }
    return (x - qx) * n[0] + (y - qy) * n[1] + (z - qz) * n[2] < 0;
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

/** Twice the area of the triangle over side a-b and a point. */
function sideArea(p: Float32Array, a: number, b: number, x: number, y: number, z: number): number {
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = x - p[a];
  const vy = y - p[a + 1];
  const vz = z - p[a + 2];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
}

/** Normals of vertices, each triangle's weighted by its angle there. */
function angleNormals(mesh: TriMesh): Float32Array {
  const { positions: p, triangles } = mesh;
  const out = new Float32Array(p.length);
  for (let t = 0; t < triangleCount(mesh); t++) {
    const n = triangleNormal(mesh, t);
    for (let k = 0; k < 3; k++) {
      const a = 3 * triangles[3 * t + k];
      const b = 3 * triangles[3 * t + ((k + 1) % 3)];
      const c = 3 * triangles[3 * t + ((k + 2) % 3)];
      const u: Vec3 = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
      const v: Vec3 = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
      const angle = Math.atan2(Math.hypot(...cross(u, v)), dot(u, v));
      for (let r = 0; r < 3; r++) out[a + r] += angle * n[r];
    }
  }
  return out;
}
