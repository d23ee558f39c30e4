import { GrowableFloats, GrowableIndices } from '../mesh/Growable.ts';
import { Bvh, treeOf } from '../mesh/Bvh.ts';
import type { RunContext } from '../run/context.ts';
import { edgesOf, originOf, starsOf, targetOf } from '../mesh/edges.ts';
import { loopLength } from '../mesh/loops.ts';
import { triangleArea, triangleNormal } from '../mesh/measures.ts';
import { trianglesMeet } from '../mesh/triangleMeet.ts';
import { nextHalfEdge, vertexCount, type TriMesh } from '../mesh/TriMesh.ts';
import { holesOf } from './bridges.ts';
import { creasedPatch } from './creasedPatch.ts';
import { fairPatch, refinePatch, type Patch, type Skirt } from './fairPatch.ts';
import { fillLoop } from './fillLoop.ts';

export interface FillOptions {
  /** loops longer than this stay open, mm */
  limitMm: number;
  /** refine patches and bend them to follow the surface; flat openings that the skin runs into squarely stay flat */
  follow: boolean;
  /** is a loop, given by its half-edges, to be closed? All are, if left out */
  wanted?: (mesh: TriMesh, loop: Uint32Array) => boolean;
}

export interface FillResult {
  mesh: TriMesh;
  filled: number;
  /** loops longer than the limit or not asked for, left open */
  left: number;
  /** patches that were bent to follow the surface */
  followed: number;
  /** area of the new patches, mm2 */
  patchAreaMm2: number;
}

/** A loop no farther out of its plane than this share of its span counts as flat. */
const flatShare = 0.01;
/** A flat opening stays flat where the skin meets its plane at more than this angle on average, degrees. */
const squareDeg = 60;

/** Loops of fewer corners are not tried with a cone. */
const fewestOfCone = 6;

/** Closes open loops, shortest first. The mesh must have manifold edges; its own triangles come first in the result. */
export function fillHoles(mesh: TriMesh, options: FillOptions, context: RunContext): FillResult {
  const edges = edgesOf(mesh);
  const { loops } = holesOf(mesh);
  if (loops.length === 0) return { mesh, filled: 0, left: 0, followed: 0, patchAreaMm2: 0 };
  const points = new GrowableFloats(mesh.positions.length + 3072);
  points.data.set(mesh.positions);
  points.length = mesh.positions.length;
  const faces = new GrowableIndices(mesh.triangles.length + 3072);
  faces.data.set(mesh.triangles);
  faces.length = mesh.triangles.length;
  const onRim = new Uint8Array(vertexCount(mesh));
  for (const loop of loops) for (const h of loop) onRim[originOf(mesh, h)] = 1;
  const key = (a: number, b: number) => (a < b ? a * 0x4000000 + b : b * 0x4000000 + a);
  const present = new Set<number>();
  for (let e = 0; e < edges.count; e++) {
    const h = edges.order[edges.start[e]];
    const a = originOf(mesh, h);
    const b = targetOf(mesh, h);
    if (onRim[a] && onRim[b]) present.add(key(a, b));
  }
  const lengths = loops.map((l) => loopLength(mesh, l));
  const order = loops.map((_, i) => i).sort((a, b) => lengths[a] - lengths[b] || a - b);
  let filled = 0;
  let left = 0;
  let followed = 0;
  order.forEach((index, turn) => {
    const loop = loops[index];
    if ((turn & 7) === 0 || loop.length > 100) {
      context.checkCancelled();
      context.progress(turn / loops.length, `Closing loop ${turn + 1} of ${loops.length}`);
    }
    if (lengths[index] > options.limitMm || (options.wanted && !options.wanted(mesh, loop))) {
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
    const barred = (i: number, j: number) => present.has(key(corners[i], corners[j]));
    const began = { faces: faces.length, points: points.length };
    const fits = (): boolean => {
      const whole = { positions: points.data, triangles: faces.data };
      return !crosses(whole, began.faces / 3, faces.length / 3, treeOf(mesh));
    };
    const takeBack = (): void => {
      faces.length = began.faces;
      points.length = began.points;
    };
    const put = (patch: Patch): void => {
      const first = points.length / 3 - n;
      for (let i = 3 * n; i < patch.points.length; i += 3)
        points.push3(patch.points[i], patch.points[i + 1], patch.points[i + 2]);
      const id = (i: number) => (i < n ? corners[i] : first + i);
      for (let i = 0; i < patch.triangles.length; i += 3)
        faces.push3(id(patch.triangles[i]), id(patch.triangles[i + 1]), id(patch.triangles[i + 2]));
    };
    filled++;
    const creased = options.follow && n > 3 ? creasedPatch(coords, rimNormals(mesh, loop), barred) : null;
    if (creased) {
      put(creased);
      if (fits()) {
        followed++;
        note(faces, began.faces, present, key);
        return;
      }
      takeBack();
    }
    const flat = n < 3 ? null : fillLoop(coords, barred);
    if (!flat) {
      put(fan(coords, n));
      return;
    }
    if (options.follow && n > 3 && !staysFlat(mesh, loop, coords)) {
      const patch = refinePatch({ points: [...coords], triangles: flat.slice(), rim: n }, barred);
      if (patch.points.length > 3 * n) {
        fairPatch(patch, skirtOf(mesh, corners));
        put(patch);
        if (fits()) {
          followed++;
          note(faces, began.faces, present, key);
          return;
        }
        takeBack();
      }
    }
    const least: Patch = { points: [...coords], triangles: flat, rim: n };
    put(least);
    // over a rim that rises and falls the least area may cut through the skin beside it; a cone from the middle may not
    if (n >= fewestOfCone && !fits()) {
      takeBack();
      put(fan(coords, n));
      if (!fits()) {
        takeBack();
        put(least);
      }
    }
    note(faces, began.faces, present, key);
  });
  const out = { positions: points.taken(), triangles: faces.taken() };
  let patchAreaMm2 = 0;
  const t = out.triangles;
  for (let i = mesh.triangles.length; i < t.length; i += 3)
    patchAreaMm2 += triangleArea(out.positions, t[i], t[i + 1], t[i + 2]);
  return { mesh: out, filled, left, followed, patchAreaMm2 };
}

/** Normals of the triangles beyond the sides of a patch, whose corners are the loop's targets, last first. */
function rimNormals(mesh: TriMesh, loop: Uint32Array): Float64Array {
  const n = loop.length;
  const out = new Float64Array(3 * n);
  // side i of the patch runs from the target of half-edge n - 1 - i back to its origin
  for (let i = 0; i < n; i++) out.set(triangleNormal(mesh, (loop[n - 1 - i] / 3) | 0), 3 * i);
  return out;
}

/** The triangles of the mesh at the corners of a loop. */
function skirtOf(mesh: TriMesh, corners: number[]): Skirt {
  const { start, list } = starsOf(mesh);
  const number = new Map(corners.map((v, i) => [v, i]));
  const points: number[] = [];
  const triangles: number[] = [];
  const seen = new Set<number>();
  for (const v of corners)
    for (let j = start[v]; j < start[v + 1]; j++) {
      const t = list[j];
      if (seen.has(t)) continue;
      seen.add(t);
      for (let k = 0; k < 3; k++) {
        const u = mesh.triangles[3 * t + k];
        let i = number.get(u);
        if (i === undefined) {
          i = corners.length + points.length / 3;
          number.set(u, i);
          points.push(mesh.positions[3 * u], mesh.positions[3 * u + 1], mesh.positions[3 * u + 2]);
        }
        triangles.push(i);
      }
    }
  return { points, triangles };
}

function note(faces: GrowableIndices, from: number, present: Set<number>, key: (a: number, b: number) => number): void {
  for (let i = from; i < faces.length; i += 3)
    for (let k = 0; k < 3; k++) present.add(key(faces.data[i + k], faces.data[i + ((k + 1) % 3)]));
}

/** Triangles from every side of a loop to its middle: never repeats an edge, so it closes any loop. */
function fan(coords: Float64Array, n: number): Patch {
  const middle = [0, 0, 0];
  for (let i = 0; i < 3 * n; i++) middle[i % 3] += coords[i] / n;
  return {
    points: [...coords, ...middle],
    triangles: Array.from({ length: n }, (_, i) => [i, (i + 1) % n, n]).flat(),
    rim: n,
  };
}

/** Is a loop flat, and does the skin run into its plane squarely, as at the underside of a sculpt? */
function staysFlat(mesh: TriMesh, loop: Uint32Array, coords: Float64Array): boolean {
  const n = coords.length / 3;
  const middle = [0, 0, 0];
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < 3 * n; i++) {
    middle[i % 3] += coords[i] / n;
    lo[i % 3] = Math.min(lo[i % 3], coords[i]);
    hi[i % 3] = Math.max(hi[i % 3], coords[i]);
  }
  const normal = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    for (let k = 0; k < 3; k++) {
      const [u, v] = [(k + 1) % 3, (k + 2) % 3];
      normal[k] +=
        (coords[3 * i + u] - middle[u]) * (coords[3 * j + v] - middle[v]) -
        (coords[3 * i + v] - middle[v]) * (coords[3 * j + u] - middle[u]);
    }
  }
  const length = Math.hypot(...normal);
  if (!(length > 0)) return false;
  const span = Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]);
  for (let i = 0; i < n; i++) {
    let d = 0;
    for (let k = 0; k < 3; k++) d += ((coords[3 * i + k] - middle[k]) * normal[k]) / length;
    if (Math.abs(d) > flatShare * span) return false;
  }
  let angles = 0;
  let weight = 0;
  const p = mesh.positions;
  for (const h of loop) {
    const a = 3 * originOf(mesh, h);
    const b = 3 * targetOf(mesh, h);
    const c = 3 * mesh.triangles[nextHalfEdge(nextHalfEdge(h))];
    // from the edge across the triangle, square to the edge
    const e = [0, 1, 2].map((k) => p[b + k] - p[a + k]);
    const ee = e[0] * e[0] + e[1] * e[1] + e[2] * e[2];
    const d = [0, 1, 2].map((k) => p[c + k] - p[a + k]);
    const s = (d[0] * e[0] + d[1] * e[1] + d[2] * e[2]) / (ee || 1);
    const f = d.map((x, k) => x - s * e[k]);
    const l = Math.hypot(...f) * length;
    if (!(l > 0)) continue;
    const sine = Math.abs(f[0] * normal[0] + f[1] * normal[1] + f[2] * normal[2]) / l;
    angles += Math.sqrt(ee) * Math.asin(Math.min(1, sine));
    weight += Math.sqrt(ee);
  }
  return weight > 0 && (angles / weight) * (180 / Math.PI) > squareDeg;
}

/** Does any triangle from `from` to `to` cross another of them, or one in the tree? */
function crosses(mesh: TriMesh, from: number, to: number, tree: Bvh): boolean {
  const { positions: p, triangles } = mesh;
  const own = new Bvh({ positions: p, triangles: triangles.subarray(3 * from, 3 * to) });
  let found = false;
  for (let t = from; t < to && !found; t++) {
    const look = (s: number) => {
      if (!found && s < t && trianglesMeet(mesh, s, t)) found = true;
    };
    tree.eachInBoxOf(mesh, t, look);
    own.eachInBoxOf(mesh, t, (s) => look(from + s));
  }
  return found;
}
