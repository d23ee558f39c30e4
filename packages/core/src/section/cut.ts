import type { Bvh } from '../mesh/Bvh.ts';
import { nextHalfEdge, triangleCount, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';

/**
 * The lines in which a plane n . p = offset meets a mesh, for drawing: six floats a segment, in no order, body on
 * the left seen against the normal. With a tree only triangles near the plane are looked at.
 */
export function cutSegments(mesh: TriMesh, normal: Vec3, offset: number, tree?: Bvh): Float32Array {
  const { positions: p, triangles } = mesh;
  const [nx, ny, nz] = normal;
  const out: number[] = [];
  const height = (v: number) => nx * p[3 * v] + ny * p[3 * v + 1] + nz * p[3 * v + 2] - offset;
  const visit = (t: number): void => {
    let enter = -1;
    let leave = -1;
    for (let k = 0; k < 3; k++) {
      const h = 3 * t + k;
      const from = height(triangles[h]) >= 0;
      const to = height(triangles[nextHalfEdge(h)]) >= 0;
      if (from && !to) enter = h;
      else if (!from && to) leave = h;
    }
    if (enter < 0 || leave < 0) return;
    for (const h of [enter, leave]) {
      let a = triangles[h];
      let b = triangles[nextHalfEdge(h)];
      if (a > b) [a, b] = [b, a];
      const ha = height(a);
      const s = ha / (ha - height(b));
      for (let k = 0; k < 3; k++) out.push(p[3 * a + k] + s * (p[3 * b + k] - p[3 * a + k]));
    }
  };
  if (tree) tree.eachAcrossPlane(nx, ny, nz, offset, visit);
  else for (let t = 0; t < triangleCount(mesh); t++) visit(t);
  return Float32Array.from(out);
}

/** Area and length of a cut in the plane with the given normal, from its segments alone: no linking needed. */
export function measureCut(segments: Float32Array, normal: Vec3): { areaMm2: number; lengthMm: number } {
  if (segments.length === 0) return { areaMm2: 0, lengthMm: 0 };
  let area = 0;
  let length = 0;
  const [ox, oy, oz] = [segments[0], segments[1], segments[2]];
  for (let i = 0; i < segments.length; i += 6) {
    const ax = segments[i] - ox;
    const ay = segments[i + 1] - oy;
    const az = segments[i + 2] - oz;
    const bx = segments[i + 3] - ox;
    const by = segments[i + 4] - oy;
    const bz = segments[i + 5] - oz;
    area += normal[0] * (ay * bz - az * by) + normal[1] * (az * bx - ax * bz) + normal[2] * (ax * by - ay * bx);
    length += Math.hypot(bx - ax, by - ay, bz - az);
  }
  return { areaMm2: area / 2, lengthMm: length };
}
