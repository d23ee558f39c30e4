import { orient2d, orient3d } from 'robust-predicates';
import type { TriMesh } from './TriMesh.ts';

/*
 * Do two triangles of one mesh share a point that is not a shared vertex or edge? Every sign comes from the exact
 * predicates of Shewchuk (1997), so the answer is right for the coordinates as stored.
 */

const side = (p: Float32Array, a: number, b: number, c: number, d: number): number =>
  orient3d(p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], p[d], p[d + 1], p[d + 2]);

/** True when triangles s and t cross, touch or lie on one another beyond what they share. Degenerate ones never do. */
export function trianglesMeet(mesh: TriMesh, s: number, t: number): boolean {
  const { positions: p, triangles } = mesh;
  const a = [3 * triangles[3 * s], 3 * triangles[3 * s + 1], 3 * triangles[3 * s + 2]];
  const b = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]];
  let shared = 0;
  let i0 = -1;
  let j0 = -1;
  let iFree = 3;
  let jFree = 3;
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++)
      if (a[i] === b[j]) {
        shared++;
        i0 = i;
        j0 = j;
        iFree -= i;
        jFree -= j;
      }
  if (shared === 3) return true;
  if (shared === 2) {
    if (side(p, a[0], a[1], a[2], b[jFree]) !== 0) return false;
    const [u, v] = dominantAxes(p, a);
    const e = a[(iFree + 1) % 3];
    const f = a[(iFree + 2) % 3];
    const one = turn(p, u, v, e, f, a[iFree]);
    const two = turn(p, u, v, e, f, b[jFree]);
    return one * two > 0;
  }
  if (shared === 1) {
    const a1 = a[(i0 + 1) % 3];
    const a2 = a[(i0 + 2) % 3];
    const b1 = b[(j0 + 1) % 3];
    const b2 = b[(j0 + 2) % 3];
    const sa1 = side(p, b[0], b[1], b[2], a1);
    const sa2 = side(p, b[0], b[1], b[2], a2);
    if ((sa1 > 0 && sa2 > 0) || (sa1 < 0 && sa2 < 0)) return false;
    if (sa1 === 0 && sa2 === 0) return coplanarFanMeet(p, a, b, a1, a2, b1, b2);
    const sb1 = side(p, a[0], a[1], a[2], b1);
    const sb2 = side(p, a[0], a[1], a[2], b2);
    if ((sb1 > 0 && sb2 > 0) || (sb1 < 0 && sb2 < 0)) return false;
    return segmentMeets(p, a1, a2, sa1, sa2, b) || segmentMeets(p, b1, b2, sb1, sb2, a);
  }
  const s0 = side(p, b[0], b[1], b[2], a[0]);
  const s1 = side(p, b[0], b[1], b[2], a[1]);
  const s2 = side(p, b[0], b[1], b[2], a[2]);
  if ((s0 > 0 && s1 > 0 && s2 > 0) || (s0 < 0 && s1 < 0 && s2 < 0)) return false;
  if (s0 === 0 && s1 === 0 && s2 === 0) return coplanarMeet(p, a, b);
  const t0 = side(p, a[0], a[1], a[2], b[0]);
  const t1 = side(p, a[0], a[1], a[2], b[1]);
  const t2 = side(p, a[0], a[1], a[2], b[2]);
  if ((t0 > 0 && t1 > 0 && t2 > 0) || (t0 < 0 && t1 < 0 && t2 < 0)) return false;
  return (
    segmentMeets(p, a[0], a[1], s0, s1, b) ||
    segmentMeets(p, a[1], a[2], s1, s2, b) ||
    segmentMeets(p, a[2], a[0], s2, s0, b) ||
    segmentMeets(p, b[0], b[1], t0, t1, a) ||
    segmentMeets(p, b[1], b[2], t1, t2, a) ||
    segmentMeets(p, b[2], b[0], t2, t0, a)
  );
}

/** Segment e f against triangle b, given the sides of e and f against b's plane. Coplanar segments are left to 2D. */
function segmentMeets(p: Float32Array, e: number, f: number, se: number, sf: number, b: number[]): boolean {
  if ((se > 0 && sf > 0) || (se < 0 && sf < 0)) return false;
  if (se === 0 && sf === 0) {
    const [u, v] = dominantAxes(p, b);
    return segmentInPlane(p, u, v, e, f, b);
  }
  const x = side(p, e, f, b[0], b[1]);
  const y = side(p, e, f, b[1], b[2]);
  const z = side(p, e, f, b[2], b[0]);
  return (x >= 0 && y >= 0 && z >= 0) || (x <= 0 && y <= 0 && z <= 0);
}

/** The two axes that keep the triangle's area when its plane is projected along the third. */
function dominantAxes(p: Float32Array, a: number[]): [number, number] {
  const ux = p[a[1]] - p[a[0]];
  const uy = p[a[1] + 1] - p[a[0] + 1];
  const uz = p[a[1] + 2] - p[a[0] + 2];
  const vx = p[a[2]] - p[a[0]];
  const vy = p[a[2] + 1] - p[a[0] + 1];
  const vz = p[a[2] + 2] - p[a[0] + 2];
  const nx = Math.abs(uy * vz - uz * vy);
  const ny = Math.abs(uz * vx - ux * vz);
  const nz = Math.abs(ux * vy - uy * vx);
  return nz >= nx && nz >= ny ? [0, 1] : nx >= ny ? [1, 2] : [2, 0];
}

const turn = (p: Float32Array, u: number, v: number, a: number, b: number, c: number): number =>
  orient2d(p[a + u], p[a + v], p[b + u], p[b + v], p[c + u], p[c + v]);

function pointInTriangle(p: Float32Array, u: number, v: number, q: number, b: number[]): boolean {
  const x = turn(p, u, v, b[0], b[1], q);
  const y = turn(p, u, v, b[1], b[2], q);
  const z = turn(p, u, v, b[2], b[0], q);
  return (x >= 0 && y >= 0 && z >= 0) || (x <= 0 && y <= 0 && z <= 0);
}

function segmentsMeet(p: Float32Array, u: number, v: number, a: number, b: number, c: number, d: number): boolean {
  const o1 = turn(p, u, v, a, b, c);
  const o2 = turn(p, u, v, a, b, d);
  const o3 = turn(p, u, v, c, d, a);
  const o4 = turn(p, u, v, c, d, b);
  if (o1 === 0 && o2 === 0) {
    const k = p[a + u] !== p[b + u] ? u : v;
    const lo = Math.min(p[a + k], p[b + k]);
    const hi = Math.max(p[a + k], p[b + k]);
    return Math.max(p[c + k], p[d + k]) >= lo && Math.min(p[c + k], p[d + k]) <= hi;
  }
  return !((o1 > 0 && o2 > 0) || (o1 < 0 && o2 < 0)) && !((o3 > 0 && o4 > 0) || (o3 < 0 && o4 < 0));
}

const segmentInPlane = (p: Float32Array, u: number, v: number, e: number, f: number, b: number[]): boolean =>
  pointInTriangle(p, u, v, e, b) ||
  segmentsMeet(p, u, v, e, f, b[0], b[1]) ||
  segmentsMeet(p, u, v, e, f, b[1], b[2]) ||
  segmentsMeet(p, u, v, e, f, b[2], b[0]);

function coplanarMeet(p: Float32Array, a: number[], b: number[]): boolean {
  const [u, v] = dominantAxes(p, a);
  for (let i = 0; i < 3; i++) if (segmentInPlane(p, u, v, a[i], a[(i + 1) % 3], b)) return true;
  return pointInTriangle(p, u, v, b[0], a);
}

/** Two coplanar triangles that share one vertex: do they overlap beyond it? */
function coplanarFanMeet(
  p: Float32Array,
  a: number[],
  b: number[],
  a1: number,
  a2: number,
  b1: number,
  b2: number,
): boolean {
  const [u, v] = dominantAxes(p, a);
  return (
    segmentInPlane(p, u, v, a1, a2, b) ||
    segmentInPlane(p, u, v, b1, b2, a) ||
    pointInTriangle(p, u, v, a1, b) ||
    pointInTriangle(p, u, v, a2, b) ||
    pointInTriangle(p, u, v, b1, a) ||
    pointInTriangle(p, u, v, b2, a)
  );
}
