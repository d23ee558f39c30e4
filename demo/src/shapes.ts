import type { TriMesh, Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { cross, normalize } from '@jasmorphe/core/mesh/transform';

/** A grid of points closed around (wraps in j) and capped at both ends becomes a closed tube, facing out. */
function tubeOf(rings: Vec3[][]): TriMesh {
  const n = rings[0].length;
  const points: number[] = [];
  for (const ring of rings) for (const p of ring) points.push(...p);
  const faces: number[] = [];
  for (let i = 0; i + 1 < rings.length; i++)
    for (let j = 0; j < n; j++) {
      const a = i * n + j;
      const b = i * n + ((j + 1) % n);
      faces.push(a, b, b + n, a, b + n, a + n);
    }
  const cap = (ring: number, turn: boolean) => {
    const centre = points.length / 3;
    const m = [0, 0, 0];
    for (const p of rings[ring]) for (let k = 0; k < 3; k++) m[k] += p[k] / n;
    points.push(...m);
    for (let j = 0; j < n; j++) {
      const a = ring * n + j;
      const b = ring * n + ((j + 1) % n);
      faces.push(...(turn ? [b, a, centre] : [a, b, centre]));
    }
  };
  cap(0, true);
  cap(rings.length - 1, false);
  return { positions: Float32Array.from(points), triangles: Uint32Array.from(faces) };
}

/**
 * A closed tube along a curve.
 *
 * @param at centre of the curve at s from 0 to 1
 * @param radius half widths across and along the reference direction, at s and angle a
 * @param reference a direction that is never along the curve
 */
export function sweep(
  at: (s: number) => Vec3,
  radius: (s: number, a: number) => [number, number],
  steps: number,
  sides: number,
  reference: Vec3,
): TriMesh {
  const rings: Vec3[][] = [];
  for (let i = 0; i <= steps; i++) {
    const s = i / steps;
    const c = at(s);
    const e = 1e-4;
    // also beyond the ends, so that tubes which go on from one another end on the very same ring
    const p = at(s - e);
    const q = at(s + e);
    const forward = normalize([q[0] - p[0], q[1] - p[1], q[2] - p[2]]);
    const u = normalize(cross(reference, forward));
    const v = cross(forward, u);
    rings.push(
      Array.from({ length: sides }, (_, j) => {
        const a = (2 * Math.PI * j) / sides;
        const [ru, rv] = radius(s, a);
        const x = ru * Math.cos(a);
        const y = rv * Math.sin(a);
        return [c[0] + x * u[0] + y * v[0], c[1] + x * u[1] + y * v[1], c[2] + x * u[2] + y * v[2]] as const;
      }),
    );
  }
  return tubeOf(rings);
}

/** An ellipsoid about a centre, as a tube along z whose ends close to small caps. */
export function ellipsoid(centre: Vec3, half: Vec3, steps = 28, sides = 40): TriMesh {
  const rings: Vec3[][] = [];
  for (let i = 0; i <= steps; i++) {
    const a = Math.PI * (0.02 + (0.96 * i) / steps);
    rings.push(
      Array.from({ length: sides }, (_, j) => {
        const b = (2 * Math.PI * j) / sides;
        return [
          centre[0] + half[0] * Math.sin(a) * Math.cos(b),
          centre[1] + half[1] * Math.sin(a) * Math.sin(b),
          centre[2] - half[2] * Math.cos(a),
        ] as const;
      }),
    );
  }
  return tubeOf(rings);
}

/** Turns a mesh about the axis through a point, radians. */
export function turn(mesh: TriMesh, axis: 0 | 1 | 2, angle: number, about: Vec3): TriMesh {
  const positions = mesh.positions.slice();
  const u = (axis + 1) % 3;
  const v = (axis + 2) % 3;
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i + u] - about[u];
    const y = positions[i + v] - about[v];
    positions[i + u] = about[u] + x * Math.cos(angle) - y * Math.sin(angle);
    positions[i + v] = about[v] + x * Math.sin(angle) + y * Math.cos(angle);
  }
  return { positions, triangles: mesh.triangles };
}

/** A body with tufts of hair in low relief: each point is moved along its direction from the middle by a folded wave. */
export function relief(mesh: TriMesh, deep: number, waves: number): TriMesh {
  const positions = mesh.positions.slice();
  const n = positions.length / 3;
  const middle = [0, 1, 2].map((k) => {
    let sum = 0;
    for (let v = 0; v < n; v++) sum += positions[3 * v + k];
    return sum / n;
  });
  for (let v = 0; v < n; v++) {
    const d = [0, 1, 2].map((k) => positions[3 * v + k] - middle[k]);
    const long = Math.hypot(...d);
    if (!(long > 0)) continue;
    const round = Math.atan2(d[1], d[0]);
    const up = Math.asin(d[2] / long);
    const tuft = Math.abs(Math.sin(0.5 * waves * up + 1.6 * Math.sin(0.5 * waves * round)));
    for (let k = 0; k < 3; k++) positions[3 * v + k] += (d[k] / long) * deep * tuft;
  }
  return { positions, triangles: mesh.triangles };
}

/**
 * The shapes with fewer steps and sides, for slow machines: a quarter of the triangles at half the fineness. Coarse
 * ones stay as they are.
 */
export function shapesAt(fineness: number): { sweep: typeof sweep; ellipsoid: typeof ellipsoid } {
  const of = (n: number): number => Math.min(n, Math.max(16, Math.round(fineness * n)));
  return {
    sweep: (at, radius, steps, sides, reference) => sweep(at, radius, of(steps), of(sides), reference),
    ellipsoid: (centre, half, steps = 28, sides = 40) => ellipsoid(centre, half, of(steps), of(sides)),
  };
}
