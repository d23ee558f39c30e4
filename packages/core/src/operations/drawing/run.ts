import { Slicer } from '../../section/Slicer.ts';
import { originOf, OPEN, targetOf, twinsOf } from '../../mesh/edges.ts';
import { treeOf, type Bvh } from '../../mesh/Bvh.ts';
import { crossesOf } from '../../mesh/measures.ts';
import { cross, normalize, placeMesh, type Mat3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, triangleCount, xyz, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';
import { isMeshError } from '../../run/MeshError.ts';
import type { RunContext } from '../../run/context.ts';
import { toSolid, withSolids } from '../../solid/kernel.ts';
import { makeOperation } from '../makeOperation.ts';
import { description, viewNames, type DrawnView, type ViewName } from './describe.ts';

/** From where each view is seen. The corner is front right, from a little above. */
const seenFrom: Record<ViewName, Vec3> = {
  corner: normalize([0.5, -0.78, 0.42]),
  front: [0, -1, 0],
  top: [0, 0, 1],
};
/** An edge is drawn where its sides meet more sharply than this. */
const sharpCos = Math.cos((35 * Math.PI) / 180);
/** Edges and pieces of level lines that are asked whether they are seen, at most. */
const mostLines = 30_000;
/** What is drawn is rounded to so much of a millimetre. */
const grain = 20;
/** Points closer than this share of the longest side are one. */
const fineShare = 1 / 300;

/** Right and up on the paper, and towards the eye. */
function frameOf(name: ViewName): Mat3 {
  const d = seenFrom[name];
  const right = name === 'top' ? ([1, 0, 0] as Vec3) : normalize(cross([0, 0, 1], d));
  return [right, cross(d, right), d];
}

/** Lines of a body in space, as polylines x, y, z ...: they are looked at from every side. */
interface SpaceLines {
  creases: Float64Array[];
  levels: Float64Array[];
}

function creasesOf(mesh: TriMesh, leastMm: number): Float64Array[] {
  const { positions: p } = mesh;
  const twin = twinsOf(mesh);
  const normal = crossesOf(mesh);
  const out: { line: Float64Array; length: number }[] = [];
  for (let h = 0; h < 3 * triangleCount(mesh); h++) {
    const other = twin[h];
    if (other < h && other !== OPEN) continue;
    if (other >= 0) {
      const [u, v] = [3 * Math.floor(h / 3), 3 * Math.floor(other / 3)];
      const long =
        Math.hypot(normal[u], normal[u + 1], normal[u + 2]) * Math.hypot(normal[v], normal[v + 1], normal[v + 2]);
      const dot = normal[u] * normal[v] + normal[u + 1] * normal[v + 1] + normal[u + 2] * normal[v + 2];
      if (!(long > 0) || dot / long > sharpCos) continue;
    }
    const [a, b] = [3 * originOf(mesh, h), 3 * targetOf(mesh, h)];
    const length = Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
    if (length < leastMm) continue;
    out.push({ line: Float64Array.of(p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2]), length });
  }
  return out
    .sort((a, b) => b.length - a.length)
    .slice(0, mostLines / 4)
    .map((e) => e.line);
}

/** Level lines, with points no closer than they are told apart on paper. */
function levelsOf(mesh: TriMesh, count: number, leastMm: number): Float64Array[] {
  const { min, max } = boundsOf(mesh);
  const out: Float64Array[] = [];
  if (count === 0) return out;
  const heights = Float64Array.from({ length: count }, (_, i) => min[2] + ((i + 0.5) / count) * (max[2] - min[2]));
  new Slicer(mesh).sweep(heights, ({ contours, z }) => {
    for (const { points } of contours) {
      const line: number[] = [];
      for (let i = 0; i < points.length; i += 2) {
        const n = line.length;
        if (n > 0 && Math.hypot(points[i] - line[n - 3], points[i + 1] - line[n - 2]) < leastMm) continue;
        line.push(points[i], points[i + 1], z);
      }
      if (line.length >= 9) out.push(Float64Array.from([...line, line[0], line[1], line[2]]));
    }
  });
  return out;
}

/** The pieces of lines that nothing stands before, as x, y ... on the paper. */
function seen(
  lines: readonly Float64Array[],
  [r, u, d]: Mat3,
  tree: Bvh,
  liftMm: number,
  corner: readonly [number, number],
): number[][] {
  const out: number[][] = [];
  const onPaper = (line: Float64Array, i: number): [number, number] => {
    const [x, y, z] = [line[i], line[i + 1], line[i + 2]];
    return [
      Math.round((r[0] * x + r[1] * y + r[2] * z - corner[0]) * grain) / grain,
      Math.round((u[0] * x + u[1] * y + u[2] * z - corner[1]) * grain) / grain,
    ];
  };
  for (const line of lines) {
    let piece: number[] = [];
    for (let i = 0; i + 5 < line.length; i += 3) {
      const middle = (k: number): number => (line[i + k] + line[i + 3 + k]) / 2 + liftMm * d[k];
      const at: Vec3 = [middle(0), middle(1), middle(2)];
      // a way to the eye that meets no skin; what lies in the skin itself is lifted off it first
      if (tree.isBlocked(at, d, 0)) {
        if (piece.length > 0) out.push(piece);
        piece = [];
        continue;
      }
      if (piece.length === 0) piece.push(...onPaper(line, i));
      piece.push(...onPaper(line, i + 3));
    }
    if (piece.length > 0) out.push(piece);
  }
  return out;
}

/** Rings of the outline of a mesh whose z looks at the eye; of what is no solid the hull. */
const outlineOf = (seenMesh: TriMesh, fineMm: number): Promise<number[][]> =>
  withSolids((kernel, keep) => {
    const flat = () => {
      try {
        return keep(keep(toSolid(kernel, seenMesh)).project());
      } catch (error) {
        if (!isMeshError(error)) throw error;
        const points: [number, number][] = [];
        for (let v = 0; v < seenMesh.positions.length; v += 3)
          points.push([seenMesh.positions[v], seenMesh.positions[v + 1]]);
        return keep(kernel.CrossSection.hull([points]));
      }
    };
    return keep(flat().simplify(fineMm))
      .toPolygons()
      .map((ring) => ring.flatMap(([x, y]) => [x, y]));
  });

async function viewOf(
  name: ViewName,
  turned: TriMesh,
  lines: SpaceLines,
  longestMm: number,
  context: RunContext,
): Promise<DrawnView> {
  context.checkCancelled();
  const frame = frameOf(name);
  const flat = placeMesh(turned, frame);
  const { min, max } = boundsOf(flat);
  const corner = [min[0], min[1]] as const;
  const round = (ring: number[]): number[] => ring.map((c, i) => Math.round((c - corner[i % 2]) * grain) / grain);
  const outline = (await outlineOf(flat, (longestMm * fineShare) / 4)).map(round);
  const tree = treeOf(turned);
  const lift = Math.max(1e-3, 2e-3 * longestMm);
  return {
    name,
    wideMm: max[0] - min[0],
    highMm: max[1] - min[1],
    outline,
    creases: seen(lines.creases, frame, tree, lift, corner),
    // level lines of what is seen from above lie over one another
    levels: name === 'corner' ? seen(lines.levels, frame, tree, lift, corner) : [],
  };
}

/** Draws a body in lines, as it lies: hidden ones left out by a ray to the eye from the middle of each piece. */
export const drawing = makeOperation(description, async ([mesh], { rotation, levels }, context) => {
  const turned = weldExact(placeMesh(mesh, rotation as unknown as Mat3));
  const size = sizeOf(boundsOf(turned));
  const longest = Math.max(...size);
  const fine = longest * fineShare;
  context.progress(0.1, 'Drawing edges');
  const lines = { creases: creasesOf(turned, 2 * fine), levels: levelsOf(turned, levels, fine) };
  const views: DrawnView[] = [];
  for (const [i, name] of viewNames.entries()) {
    context.progress(0.2 + (0.8 * i) / viewNames.length, 'Drawing');
    views.push(await viewOf(name, turned, lines, longest, context));
  }
  return { outputs: [], report: { views, size: xyz(size) } };
});
