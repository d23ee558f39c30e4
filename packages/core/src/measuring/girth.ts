import { treeOf } from '../mesh/Bvh.ts';
import { MeshError } from '../run/MeshError.ts';
import { placeMesh, rotationToZ, transpose, applyMat3, dot, normalize } from '../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { hull2d } from '../section/hull2d.ts';
import { Slicer } from '../section/Slicer.ts';

export interface Girth {
  /** length of a taut tape around that part, mm: it spans hollows */
  tapeMm: number;
  /** length along the skin itself, mm */
  skinMm: number;
  /** where the tape lies, x, y, z a corner; it closes on itself */
  tape: number[];
}

/**
 * The girth of the part of a body that is nearest to a point, in the plane through that point: what a tape measure says.
 *
 * @param normal of the plane; need not be of unit length
 * @throws MeshError `cannot` when the plane does not meet the body
 */
export function girthAt(mesh: TriMesh, at: Vec3, normal: Vec3): Girth {
  const n = normalize(normal);
  const rows = rotationToZ(n);
  const offset = dot(n, at);
  const crossing: number[] = [];
  treeOf(mesh).eachAcrossPlane(n[0], n[1], n[2], offset, (t) => crossing.push(t));
  // a section needs the triangles that the plane crosses, and no others
  const triangles = new Uint32Array(3 * crossing.length);
  crossing.sort((a, b) => a - b).forEach((t, i) => triangles.set(mesh.triangles.subarray(3 * t, 3 * t + 3), 3 * i));
  const used = new Map<number, number>();
  for (let i = 0; i < triangles.length; i++) {
    const v = triangles[i];
    const slot = used.get(v) ?? used.size;
    used.set(v, slot);
    triangles[i] = slot;
  }
  const positions = new Float32Array(3 * used.size);
  for (const [v, slot] of used) positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * slot);
  // about the picked point, so that nothing is lost to rounding far from the origin
  for (let i = 0; i < positions.length; i++) positions[i] -= at[i % 3];
  const section = new Slicer(placeMesh({ positions, triangles }, rows)).at(0);
  let best = Infinity;
  let chosen: Float64Array | null = null;
  let skinMm = 0;
  for (const c of section.contours) {
    const count = c.points.length / 2;
    for (let i = 0; i < count - (c.closed ? 0 : 1); i++) {
      const j = (i + 1) % count;
      const [ax, ay] = [c.points[2 * i], c.points[2 * i + 1]];
      const [dx, dy] = [c.points[2 * j] - ax, c.points[2 * j + 1] - ay];
      const s = Math.min(1, Math.max(0, -(ax * dx + ay * dy) / (dx * dx + dy * dy || 1)));
      const d = Math.hypot(ax + s * dx, ay + s * dy);
      if (d < best) {
        best = d;
        chosen = c.points;
        skinMm = c.perimeterMm;
      }
    }
  }
  if (!chosen || chosen.length < 6)
    throw new MeshError('cannot', 'That plane does not meet the model.', 'Pick a point on the model.', 'points');
  const corners = hull2d(chosen);
  const back = transpose(rows);
  const tape: number[] = [];
  let tapeMm = 0;
  for (let i = 0; i < corners.length; i += 2) {
    const j = (i + 2) % corners.length;
    tapeMm += Math.hypot(corners[j] - corners[i], corners[j + 1] - corners[i + 1]);
    const q = applyMat3(back, [corners[i], corners[i + 1], 0]);
    tape.push(q[0] + at[0], q[1] + at[1], q[2] + at[2]);
  }
  return { tapeMm, skinMm, tape };
}
