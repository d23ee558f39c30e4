import { boundsOf, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import { extractLevel } from '../field/extractLevel.ts';
import { quietContext } from '../run/context.ts';

/** A limb: a cone with round ends, from one ball to another. */
export interface Limb {
  from: Vec3;
  to: Vec3;
  /** radii of the two balls, mm */
  radii: readonly [number, number];
  /** flattened to this share along y (a chest, a palm) */
  flat?: number;
}

/** Distance to a limb, mm, negative inside; for flattened ones no more than the distance. */
function distanceTo(l: Limb, x: number, y: number, z: number): number {
  const flat = l.flat ?? 1;
  const dx = l.to[0] - l.from[0];
  const dy = (l.to[1] - l.from[1]) / flat;
  const dz = l.to[2] - l.from[2];
  const px = x - l.from[0];
  const py = (y - l.from[1]) / flat;
  const pz = z - l.from[2];
  const dd = dx * dx + dy * dy + dz * dz;
  const s = dd > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy + pz * dz) / dd)) : 0;
  const gap = Math.hypot(px - s * dx, py - s * dy, pz - s * dz) - (l.radii[0] + s * (l.radii[1] - l.radii[0]));
  return gap * flat;
}

/**
 * One skin over all limbs, its creases filled as flesh fills them: distances are blended by a smooth least (the
 * exponential one, log of the sum of exp(-k d), as for the soft objects of Wyvill 1986).
 *
 * @param blend width over which limbs run into each other, mm
 * @param detail edge of the grid, mm
 */
export function skinOver(limbs: Limb[], blend: number, detail: number): TriMesh {
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (const { from, to, radii } of limbs)
    for (const [p, r] of [
      [from, radii[0]],
      [to, radii[1]],
    ] as const)
      for (let k = 0; k < 3; k++) {
        lo[k] = Math.min(lo[k], p[k] - r - 2 * blend);
        hi[k] = Math.max(hi[k], p[k] + r + 2 * blend);
      }
  const k = 4 / blend;
  const asked = [NaN, NaN, NaN];
  let value = 0;
  /** depth under the skin: positive inside */
  const depth = (x: number, y: number, z: number): number => {
    if (asked[0] === x && asked[1] === y && asked[2] === z) return value;
    asked[0] = x;
    asked[1] = y;
    asked[2] = z;
    let sum = 0;
    let least = Infinity;
    for (const l of limbs) {
      const d = distanceTo(l, x, y, z);
      least = Math.min(least, d);
      sum += Math.exp(-k * Math.min(Math.max(d, -40 / k), 40 / k));
    }
    value = Math.abs(least) > 4 * blend ? -least : Math.log(sum) / k;
    return value;
  };
  return extractLevel(
    {
      distance: (x, y, z, limit) => Math.min(limit, Math.abs(depth(x, y, z))),
      inside: (x, y, z) => depth(x, y, z) > 0,
      depth: 0,
      closed: true,
    },
    { min: lo as unknown as Vec3, max: hi as unknown as Vec3 },
    detail,
    quietContext,
  );
}

/** Stretches a mesh so that it spans the height given, and sets it on z = 0. */
export function standing(mesh: TriMesh, height: number): { mesh: TriMesh; place: (p: Vec3) => Vec3 } {
  const { min, max } = boundsOf(mesh);
  const f = height / (max[2] - min[2]);
  return {
    mesh: { positions: mesh.positions.map((x, i) => (i % 3 === 2 ? f * (x - min[2]) : x)), triangles: mesh.triangles },
    place: ([x, y, z]) => [x, y, f * (z - min[2])],
  };
}
