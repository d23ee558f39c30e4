import { expose, transfer } from 'comlink';
import earcut from 'earcut';
import { fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { Bvh, newHit } from '@jasmorphe/core/mesh/Bvh';
import { boundsOf, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { regionsOf } from '@jasmorphe/core/section/regions';
import { Slicer } from '@jasmorphe/core/section/Slicer';

/** A cut through the full mesh at right angles to an axis. */
export interface CutView {
  /** triangles of the cut face, x, y, z per corner */
  face: Float32Array;
  /** outlines, x, y, z per end, two ends a segment */
  lines: Float32Array;
  areaMm2: number;
  regions: number;
  at: number;
  tookMs: number;
}

/** How far each vertex of a drawn skin lies from another skin, mm. */
export interface DistanceView {
  distances: Float32Array;
  maxMm: number;
  meanMm: number;
  /** all but one in a hundred are nearer */
  p99Mm: number;
}

const trees = new Map<string, Bvh>();
const mostTrees = 2;

const fetchMesh = async (wanted: string): Promise<TriMesh> => {
  const response = await fetch(`/api/meshes/${wanted}`);
  if (!response.ok) throw new Error(`mesh ${wanted.slice(0, 8)} cannot be loaded`);
  return fromCanonical(new Uint8Array(await response.arrayBuffer()));
};

let hash = '';
let mesh: TriMesh | null = null;
const slicers = new Map<number, Slicer>();

/** The mesh with its axes exchanged in a circle, so that axis k stands where z was; a rotation, so it stays right side out. */
function alongZ(source: TriMesh, k: number): TriMesh {
  if (k === 2) return source;
  const positions = new Float32Array(source.positions.length);
  for (let i = 0; i < positions.length; i += 3)
    for (let r = 0; r < 3; r++) positions[i + r] = source.positions[i + ((k + 1 + r) % 3)];
  return { positions, triangles: source.triangles };
}

const workshop = {
  /** Fetches the full mesh once; figures come from it, never from the display mesh. */
  async load(wanted: string): Promise<{ triangles: number }> {
    if (wanted !== hash || !mesh) {
      mesh = await fetchMesh(wanted);
      hash = wanted;
      slicers.clear();
    }
    return { triangles: mesh.triangles.length / 3 };
  },

  cut(axis: 0 | 1 | 2, share: number): CutView | null {
    if (!mesh) return null;
    const started = performance.now();
    let slicer = slicers.get(axis);
    if (!slicer) slicers.set(axis, (slicer = new Slicer(alongZ(mesh, axis))));
    const { min, max } = boundsOf(slicer.mesh);
    // a cut exactly in a flat end would be nothing but rounding
    const at = min[2] + Math.min(0.9995, Math.max(0.0005, share)) * (max[2] - min[2]);
    const section = slicer.at(at);
    const face: number[] = [];
    const lines: number[] = [];
    const put = (out: number[], x: number, y: number) => {
      const p = [0, 0, 0];
      p[(axis + 1) % 3] = x;
      p[(axis + 2) % 3] = y;
      p[axis] = at;
      out.push(p[0], p[1], p[2]);
    };
    for (const { points, closed } of section.contours) {
      const n = points.length / 2;
      for (let i = 0; i + (closed ? 0 : 1) < n; i++) {
        const j = (i + 1) % n;
        put(lines, points[2 * i], points[2 * i + 1]);
        put(lines, points[2 * j], points[2 * j + 1]);
      }
    }
    const regions = regionsOf(section);
    for (const { outer, holes } of regions) {
      const flat: number[] = [];
      const starts: number[] = [];
      for (const c of [outer, ...holes]) {
        if (flat.length > 0) starts.push(flat.length / 2);
        for (const v of c.points) flat.push(v);
      }
      for (const i of earcut(flat, starts)) put(face, flat[2 * i], flat[2 * i + 1]);
    }
    const view: CutView = {
      face: Float32Array.from(face),
      lines: Float32Array.from(lines),
      areaMm2: section.areaMm2,
      regions: regions.length,
      at,
      tookMs: performance.now() - started,
    };
    return transfer(view, [view.face.buffer, view.lines.buffer]);
  },

  /** Distances from points, x, y, z each, to the full skin of a mesh. */
  async distances(points: Float32Array, to: string): Promise<DistanceView> {
    let tree = trees.get(to);
    if (!tree) {
      tree = new Bvh(to === hash && mesh ? mesh : await fetchMesh(to));
      trees.set(to, tree);
      if (trees.size > mostTrees) trees.delete(trees.keys().next().value!);
    }
    const distances = new Float32Array(points.length / 3);
    const hit = newHit();
    let maxMm = 0;
    let sum = 0;
    for (let v = 0; v < distances.length; v++) {
      const d = tree.nearest(points[3 * v], points[3 * v + 1], points[3 * v + 2], Infinity, hit).distance;
      distances[v] = d;
      sum += d;
      if (d > maxMm) maxMm = d;
    }
    const sorted = distances.slice().sort();
    const p99Mm = sorted.length > 0 ? sorted[Math.floor(0.99 * (sorted.length - 1))] : 0;
    return transfer({ distances, maxMm, p99Mm, meanMm: sum / Math.max(1, distances.length) }, [distances.buffer]);
  },

  /** Area of the section at evenly spaced places along an axis, mm and mm2. */
  profile(axis: 0 | 1 | 2, places: number): { at: number; areaMm2: number }[] {
    if (!mesh) return [];
    let slicer = slicers.get(axis);
    if (!slicer) slicers.set(axis, (slicer = new Slicer(alongZ(mesh, axis))));
    const { min, max } = boundsOf(slicer.mesh);
    const heights = Float64Array.from({ length: places }, (_, i) => min[2] + ((i + 0.5) / places) * (max[2] - min[2]));
    const out: { at: number; areaMm2: number }[] = [];
    slicer.sweep(heights, (section, i) => out.push({ at: heights[i], areaMm2: section.areaMm2 }));
    return out;
  },
};

export type Workshop = typeof workshop;

expose(workshop);
