import { cross, normalize, vec3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { PlaneCut } from './PlaneCut.ts';

/** The plane that a closed line lies nearest to: through its middle, across its mean normal (Newell 1972). */
function planeOfLoop(points: readonly Vec3[]): { normal: Vec3; offset: number } {
  const n = points.length;
  const middle = vec3((k) => points.reduce((s, p) => s + p[k], 0) / n);
  let sum: Vec3 = [0, 0, 0];
  points.forEach((p, i) => {
    const q = points[(i + 1) % n];
    const c = cross(
      vec3((k) => p[k] - middle[k]),
      vec3((k) => q[k] - middle[k]),
    );
    sum = vec3((k) => sum[k] + c[k]);
  });
  const long = Math.hypot(...sum);
  // so near to an axis it is along it
  const plain = vec3((k) => sum[k] / (long || 1));
  const axis = plain.findIndex((x) => Math.abs(x) > 1 - 1e-9);
  const normal = axis < 0 ? normalize(plain) : vec3((k) => (k === axis ? Math.sign(plain[k]) : 0));
  return { normal, offset: normal[0] * middle[0] + normal[1] * middle[1] + normal[2] * middle[2] };
}

/** A cut along a closed line. */
export const alongLoop = (points: readonly Vec3[]): PlaneCut => {
  const { normal, offset } = planeOfLoop(points);
  // with the plane's normal along the positive axis, as all cuts across an axis have it
  const flip = normal.some((x) => x === -1);
  return flip
    ? { normal: vec3((k) => -normal[k] || 0), offset: -offset, loop: points }
    : { normal, offset, loop: points };
};
