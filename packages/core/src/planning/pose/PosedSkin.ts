import { shellMeasures } from '../../mesh/shells.ts';
import { shellsOf } from '../../mesh/edges.ts';
import { centreOf, crossesOf } from '../../mesh/measures.ts';
import { triangleCount, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { newHit, treeOf } from '../../mesh/Bvh.ts';
import type { CleanSpot } from '../cuts/CleanBox.ts';
import type { PlaneCut } from '../cuts/PlaneCut.ts';

/** What of a solid's skin does not change however it lies. One entry a triangle. */
export interface PosedSkin {
  mesh: TriMesh;
  /** x, y, z of length 1; zeros where there is no area */
  normals: Float32Array;
  areas: Float64Array;
  areaMm2: number;
  volumeMm3: number;
  /** middle of the flesh */
  centre: Vec3;
  /** 1 on the wall of a cavity that has no way out */
  closedIn: Uint8Array;
  /** 1 where marks and steps would be seen, 0 where nobody looks */
  seen: Uint8Array;
}

/** How far skin may lie from a plane to be a face of it, mm, and how much it may lean. */
const onPlaneMm = 0.05;
const alongPlane = Math.cos(Math.PI / 180);

/**
 * Skin within spots that nobody sees is marked so. A spot is a ball around a point of the skin; what faces another way than
 * the skin there, such as the other side of a thin wall, is no part of it.
 */
function markHidden(mesh: TriMesh, normals: Float32Array, spots: readonly CleanSpot[], seen: Uint8Array): void {
  const { positions: p, triangles: t } = mesh;
  const tree = treeOf(mesh);
  for (const { at, radiusMm } of spots) {
    const { triangle } = tree.nearest(at[0], at[1], at[2], Infinity, newHit());
    const [nx, ny, nz] = normals.subarray(3 * triangle, 3 * triangle + 3);
    const within = radiusMm * radiusMm;
    for (let i = 0; i < seen.length; i++) {
      let far = 0;
      for (let k = 0; k < 3; k++) {
        const middle = (p[3 * t[3 * i] + k] + p[3 * t[3 * i + 1] + k] + p[3 * t[3 * i + 2] + k]) / 3;
        far += (middle - at[k]) ** 2;
      }
      if (far > within && i !== triangle) continue;
      if (nx * normals[3 * i] + ny * normals[3 * i + 1] + nz * normals[3 * i + 2] > 0) seen[i] = 0;
    }
  }
}

/**
 * @param unseen planes in which parts are glued to one another: nobody sees the skin that lies in them
 * @param hidden spots of the skin that nobody looks at
 */
export function posedSkin(mesh: TriMesh, unseen: readonly PlaneCut[], hidden: readonly CleanSpot[] = []): PosedSkin {
  const n = triangleCount(mesh);
  const { positions: p, triangles: t } = mesh;
  const crosses = crossesOf(mesh);
  const normals = new Float32Array(3 * n);
  const areas = new Float64Array(n);
  const seen = new Uint8Array(n).fill(1);
  let areaMm2 = 0;
  for (let i = 0; i < n; i++) {
    const x = crosses[3 * i];
    const y = crosses[3 * i + 1];
    const z = crosses[3 * i + 2];
    const twice = Math.sqrt(x * x + y * y + z * z);
    areas[i] = twice / 2;
    areaMm2 += twice / 2;
    if (!(twice > 0)) continue;
    normals[3 * i] = x / twice;
    normals[3 * i + 1] = y / twice;
    normals[3 * i + 2] = z / twice;
  }
  for (const { normal, offset } of unseen)
    for (let i = 0; i < n; i++) {
      const along = normal[0] * normals[3 * i] + normal[1] * normals[3 * i + 1] + normal[2] * normals[3 * i + 2];
      if (Math.abs(along) < alongPlane) continue;
      let far = 0;
      for (let k = 0; k < 3; k++) {
        const v = 3 * t[3 * i + k];
        far = Math.max(far, Math.abs(normal[0] * p[v] + normal[1] * p[v + 1] + normal[2] * p[v + 2] - offset));
      }
      if (far < onPlaneMm) seen[i] = 0;
    }
  if (hidden.length > 0 && n > 0) markHidden(mesh, normals, hidden, seen);
  const { volume } = shellMeasures(mesh);
  const { label } = shellsOf(mesh);
  const closedIn = new Uint8Array(n);
  for (let i = 0; i < n; i++) if (volume[label[i]] < 0) closedIn[i] = 1;
  return {
    mesh,
    normals,
    areas,
    areaMm2,
    volumeMm3: volume.reduce((a, v) => a + v, 0),
    centre: centreOf(mesh),
    closedIn,
    seen,
  };
}

/** Upright share of each triangle's normal. */
export function riseOf({ normals }: Pick<PosedSkin, 'normals'>, up: Vec3): Float32Array {
  const rise = new Float32Array(normals.length / 3);
  for (let t = 0; t < rise.length; t++)
    rise[t] = up[0] * normals[3 * t] + up[1] * normals[3 * t + 1] + up[2] * normals[3 * t + 2];
  return rise;
}
