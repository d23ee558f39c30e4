import { treeOf } from '../../mesh/Bvh.ts';
import { crossesOf } from '../../mesh/measures.ts';
import { vec3 } from '../../mesh/transform.ts';
import { boundsOf, triangleCount, type TriMesh } from '../../mesh/TriMesh.ts';

/** A place along an axis where a flat underside begins: what lies above stands on it, and nothing need hold it up. */
export interface NaturalPlane {
  /** mm along the axis */
  at: number;
  /** of the flat, mm² */
  areaMm2: number;
  /** room under it that would want support, mm³ */
  supportMm3: number;
}

/** Undersides nearer than this along the axis are one, mm. */
const sameMm = 0.25;
/** An underside is flat where it leans less than this off the level, as cosine: 3 degrees. */
const levelCos = Math.cos((3 * Math.PI) / 180);
/** Flats smaller than this share of the largest are left out. */
const leastShare = 0.03;

/**
 * The undersides of a mesh along an axis, those that save most support first. The foot is none of them. Under every
 * triangle its area times the drop to whatever lies below is what a column of support would fill.
 */
export function naturalPlanes(mesh: TriMesh, axis: 0 | 1 | 2, most = 8): NaturalPlane[] {
  const { positions: p, triangles: t } = mesh;
  const crosses = crossesOf(mesh);
  const { min, max } = boundsOf(mesh);
  const slack = Math.max(sameMm, 1e-4 * (max[axis] - min[axis]));
  const tree = treeOf(mesh);
  const down = vec3((k) => (k === axis ? -1 : 0));
  const found: { at: number; triangle: number; areaMm2: number }[] = [];
  for (let i = 0; i < triangleCount(mesh); i++) {
    const along = crosses[3 * i + axis];
    const twice = Math.hypot(crosses[3 * i], crosses[3 * i + 1], crosses[3 * i + 2]);
    if (!(along < -levelCos * twice) || twice === 0) continue;
    const heights = [0, 1, 2].map((k) => p[3 * t[3 * i + k] + axis]);
    const at = (heights[0] + heights[1] + heights[2]) / 3;
    if (at - min[axis] > slack) found.push({ at, triangle: i, areaMm2: -along / 2 });
  }
  found.sort((a, b) => a.at - b.at);
  const planes: (NaturalPlane & { triangles: number[] })[] = [];
  for (const { at, triangle, areaMm2 } of found) {
    const last = planes.at(-1);
    // the lowest point of the flat is where the cut goes
    if (last && at - last.at <= slack) {
      last.areaMm2 += areaMm2;
      last.triangles.push(triangle);
    } else planes.push({ at, areaMm2, supportMm3: 0, triangles: [triangle] });
  }
  const largest = Math.max(0, ...planes.map((q) => q.areaMm2));
  const kept = planes.filter((q) => q.areaMm2 >= leastShare * largest);
  for (const plane of kept)
    for (const i of plane.triangles) {
      const centre = vec3((k) => (p[3 * t[3 * i] + k] + p[3 * t[3 * i + 1] + k] + p[3 * t[3 * i + 2] + k]) / 3);
      const drop = Math.min(centre[axis] - min[axis], tree.firstHit(centre, down, 1e-4, i));
      plane.supportMm3 += (-crosses[3 * i + axis] / 2) * drop;
    }
  return kept
    .map(({ at, areaMm2, supportMm3 }) => ({ at, areaMm2, supportMm3 }))
    .sort((a, b) => b.supportMm3 - a.supportMm3)
    .slice(0, most);
}
