import type { MeasureKind } from './measureKinds.ts';
import { MeshError } from '../run/MeshError.ts';
import { vec3 } from '../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../mesh/TriMesh.ts';
import { circleThrough, rimNear } from './circle.ts';
import { girthAt } from './girth.ts';

/** How many points a kind of measure asks for; a girth may also have its plane picked by three. */
export const pointsOf: Record<MeasureKind, number> = { points: 2, axis: 2, circle: 3, rim: 1, girth: 1 };

export interface Measurement {
  lengthMm: number;
  /** what was measured, in words */
  says: string;
  /** lines that show it, two ends of x, y, z a segment */
  lines: number[];
}

const ring = (corners: number[]): number[] => {
  const out: number[] = [];
  for (let i = 0; i < corners.length; i += 3) {
    const j = (i + 3) % corners.length;
    out.push(corners[i], corners[i + 1], corners[i + 2], corners[j], corners[j + 1], corners[j + 2]);
  }
  return out;
};

/** 64 corners of a circle. */
function circleCorners(centre: Vec3, normal: Vec3, radius: number): number[] {
  const help: Vec3 = Math.abs(normal[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const u: Vec3 = [
    help[1] * normal[2] - help[2] * normal[1],
    help[2] * normal[0] - help[0] * normal[2],
    help[0] * normal[1] - help[1] * normal[0],
  ];
  const length = Math.hypot(...u);
  const v: Vec3 = [
    normal[1] * u[2] - normal[2] * u[1],
    normal[2] * u[0] - normal[0] * u[2],
    normal[0] * u[1] - normal[1] * u[0],
  ];
  const out: number[] = [];
  for (let i = 0; i < 64; i++) {
    const a = (2 * Math.PI * i) / 64;
    for (let k = 0; k < 3; k++) out.push(centre[k] + (radius / length) * (Math.cos(a) * u[k] + Math.sin(a) * v[k]));
  }
  return out;
}

/**
 * Measures a length on a model from picked points.
 *
 * - `points`: straight from one to the other
 * - `axis`: the same along x, y or z (`axis` 0, 1, 2)
 * - `circle`: diameter of the circle through three points
 * - `rim`: diameter of the round rim nearest to a point
 * - `girth`: a tape around the part nearest to the point, in the plane square to `axis`; or, of three points, around the
 *   part nearest to the first in the plane through all three
 *
 * @param points x, y, z each, mm
 * @throws MeshError `bad-params` for too few points or points that fall together, `cannot` where there is nothing to measure
 */
export function measureOn(mesh: TriMesh, kind: MeasureKind, points: readonly Vec3[], axis: 0 | 1 | 2 = 2): Measurement {
  const wanted = pointsOf[kind];
  const inPlane = kind === 'girth' && points.length === 3;
  if ((points.length !== wanted && !inPlane) || points.some((q) => q.length !== 3 || !q.every(Number.isFinite)))
    throw new MeshError(
      'bad-params',
      `This measure takes ${wanted} ${wanted === 1 ? 'point' : 'points'}, ${points.length} ${points.length === 1 ? 'was' : 'were'} given.`,
      'Pick them on the model.',
      'points',
    );
  const name = 'xyz'[axis];
  switch (kind) {
    case 'points':
    case 'axis': {
      const [a, b] = points;
      const lengthMm =
        kind === 'axis' ? Math.abs(b[axis] - a[axis]) : Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
      if (!(lengthMm > 0))
        throw new MeshError(
          'bad-params',
          kind === 'axis' ? `The two points do not differ along ${name}.` : 'The two points fall together.',
          'Pick two that stand apart.',
          'points',
        );
      const lines = [...a, ...b];
      if (kind === 'axis') {
        const corner = vec3((k) => (k === axis ? b : a)[k]);
        lines.splice(0, 6, ...a, ...corner, ...corner, ...b);
      }
      return { lengthMm, says: kind === 'axis' ? `distance along ${name}` : 'distance of two points', lines };
    }
    case 'circle':
    case 'rim': {
      const c = kind === 'rim' ? rimNear(mesh, points[0]) : circleThrough(points[0], points[1], points[2]);
      return {
        lengthMm: c.diameterMm,
        says:
          kind === 'rim'
            ? `diameter of a rim, round to ${Number(c.outOfRoundMm.toPrecision(2))} mm`
            : 'diameter of a circle',
        lines: ring(circleCorners(c.centre, c.normal, c.diameterMm / 2)),
      };
    }
    case 'girth': {
      const square = vec3((k) => (k === axis ? 1 : 0));
      const normal = inPlane ? circleThrough(points[0], points[1], points[2]).normal : square;
      const g = girthAt(mesh, points[0], normal);
      return {
        lengthMm: g.tapeMm,
        says: inPlane ? 'girth in the plane of three points' : `girth square to ${name}`,
        lines: ring(g.tape),
      };
    }
  }
}
