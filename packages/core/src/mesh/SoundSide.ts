import type { NearestHit } from './Bvh.ts';
import { twinsOf } from './edges.ts';
import { oncePerMesh } from './oncePerMesh.ts';
import { cornerNormals, unitNormalsOf } from './measures.ts';
import type { TriMesh } from './TriMesh.ts';

/** A nearest point that lies within this share of a triangle's height of a side counts as on the side. */
const onSide = 1e-5;

/**
 * Tells the inside of a mesh that is closed, outward and free of crossings by what of it is nearest: the side of a face,
 * of the sum of two faces' normals at an edge, or at a corner of the normals' sum weighted by angles, which is right for
 * any such mesh (Bærentzen and Aanæs 2005). Costs the same however many triangles there are and whatever their shape.
 *
 * Packed: `normals` has x, y, z a triangle, of unit length; `corners` x, y, z a vertex.
 */
export class SoundSide {
  private readonly twins: Int32Array;
  private readonly normals: Float32Array;
  private readonly corners: Float32Array;

  constructor(readonly mesh: TriMesh) {
    this.twins = twinsOf(mesh);
    this.normals = unitNormalsOf(mesh);
    this.corners = cornerNormals(mesh, this.normals);
  }

  /** Is a point inside, given the nearest point of the mesh to it? */
  inside(x: number, y: number, z: number, hit: NearestHit): boolean {
    const { triangles, positions: p } = this.mesh;
    const t = hit.triangle;
    const [qx, qy, qz] = hit.point;
    // which sides the nearest point lies on: side k runs from corner k to the next
    let near = 0;
    for (let k = 0; k < 3; k++) {
      const a = 3 * triangles[3 * t + k];
      const b = 3 * triangles[3 * t + ((k + 1) % 3)];
      const c = 3 * triangles[3 * t + ((k + 2) % 3)];
      if (!(sideArea(p, a, b, qx, qy, qz) >= onSide * sideArea(p, a, b, p[c], p[c + 1], p[c + 2]))) near |= 1 << k;
    }
    const dx = x - qx;
    const dy = y - qy;
    const dz = z - qz;
    if (near === 0 || near === 1 || near === 2 || near === 4) {
      let side = this.facing(t, dx, dy, dz);
      if (near !== 0) {
        const twin = this.twins[3 * t + (near >> 1)];
        if (twin >= 0) side += this.facing((twin / 3) | 0, dx, dy, dz);
      }
      return side < 0;
    }
    // two sides meet in a corner; on all three the triangle is next to nothing, and its first corner will do
    const v = 3 * triangles[3 * t + (near === 3 ? 1 : near === 6 ? 2 : 0)];
    return dx * this.corners[v] + dy * this.corners[v + 1] + dz * this.corners[v + 2] < 0;
  }

  private facing(t: number, dx: number, dy: number, dz: number): number {
    return dx * this.normals[3 * t] + dy * this.normals[3 * t + 1] + dz * this.normals[3 * t + 2];
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

/** The sides of a mesh, prepared once. */
export const soundSideOf = oncePerMesh((mesh) => new SoundSide(mesh));
