import { GrowableFloats, GrowableIndices } from '../formats/Growable.ts';
import type { RunContext } from '../mesh/context.ts';
import { buildEdges, openLoops, originOf, targetOf, twinsOf } from '../mesh/edges.ts';
import { loopLength } from '../mesh/inspect.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { fillLoop } from './fillLoop.ts';

export interface FillResult {
  mesh: TriMesh;
  filled: number;
  /** loops longer than the limit, left open */
  left: number;
  /** area of the new patches, mm2 */
  patchAreaMm2: number;
}

/** Closes every open loop up to `limitMm` of length. The mesh must have manifold edges. */
export function fillHoles(mesh: TriMesh, limitMm: number, context: RunContext): FillResult {
  const edges = buildEdges(mesh);
  const loops = openLoops(mesh, twinsOf(mesh, edges));
  const points = new GrowableFloats(mesh.positions.length + 3072);
  points.data.set(mesh.positions);
  points.length = mesh.positions.length;
  const faces = new GrowableIndices(mesh.triangles.length + 3072);
  faces.data.set(mesh.triangles);
  faces.length = mesh.triangles.length;
  const onRim = new Set<number>();
  for (const loop of loops) for (const h of loop) onRim.add(originOf(mesh, h));
  const key = (a: number, b: number) => (a < b ? a * 0x4000000 + b : b * 0x4000000 + a);
  const present = new Set<number>();
  for (let e = 0; e < edges.count; e++) {
    const h = edges.order[edges.start[e]];
    const a = originOf(mesh, h);
    const b = targetOf(mesh, h);
    if (onRim.has(a) && onRim.has(b)) present.add(key(a, b));
  }
  let filled = 0;
  let left = 0;
  loops.forEach((loop, index) => {
    if ((index & 15) === 0) {
      context.checkCancelled();
      context.progress(index / loops.length, `Closing loop ${index + 1} of ${loops.length}`);
    }
    if (loopLength(mesh, loop) > limitMm) {
      left++;
      return;
    }
    // the patch runs against the open half-edges
    const corners = Array.from(loop, (h) => targetOf(mesh, h)).reverse();
    const n = corners.length;
    const coords = new Float64Array(3 * n);
    corners.forEach((v, i) => {
      for (let k = 0; k < 3; k++) coords[3 * i + k] = mesh.positions[3 * v + k];
    });
    const patch = n < 3 ? null : fillLoop(coords, (i, j) => present.has(key(corners[i], corners[j])));
    if (patch) {
      for (let i = 0; i < patch.length; i += 3) {
        const [a, b, c] = [corners[patch[i]], corners[patch[i + 1]], corners[patch[i + 2]]];
        faces.push3(a, b, c);
        present.add(key(a, b)).add(key(b, c)).add(key(c, a));
      }
    } else {
      // a fan from the middle never repeats an edge, so it closes any loop
      const middle = points.length / 3;
      const m = [0, 0, 0];
      for (let i = 0; i < 3 * n; i++) m[i % 3] += coords[i] / n;
      points.push3(m[0], m[1], m[2]);
      for (let i = 0; i < n; i++) faces.push3(corners[i], corners[(i + 1) % n], middle);
    }
    filled++;
  });
  const out = { positions: points.data.slice(0, points.length), triangles: faces.data.slice(0, faces.length) };
  return { mesh: out, filled, left, patchAreaMm2: patchArea(out, mesh.triangles.length) };
}

function patchArea(mesh: TriMesh, from: number): number {
  const { positions: p, triangles: t } = mesh;
  let sum = 0;
  for (let i = from; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const u = [0, 1, 2].map((k) => p[b + k] - p[a + k]);
    const v = [0, 1, 2].map((k) => p[c + k] - p[a + k]);
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return sum;
}
