import { treeOf, type Bvh } from '../mesh/Bvh.ts';
import { sampleSurface } from '../mesh/deviation.ts';
import { areaOf, triangleNormal } from '../mesh/measures.ts';
import { boundsOfPoints, type TriMesh, type Vec3 } from '../mesh/TriMesh.ts';
import { dot } from '../mesh/transform.ts';
import { figures } from '../trade/figures.ts';
import { byPlace } from './byPlace.ts';
import type { Finding, Findings, Surveyed } from './Finding.ts';

const samplesOfWalls = 6000;

/** Triangles that rays from all of them may pass close by. Of a heap, where each passes thousands, fewer points are looked from. */
const mostPassed = 30_000_000;

/** From how many points of a mesh rays are sent: the fewer, the more triangles lie about a point. */
function samplesFor(tree: Bvh, reach: number): number {
  const { points } = sampleSurface(tree.mesh, 64, 5);
  let passed = 0;
  for (let i = 0; i < points.length; i += 3) {
    const [x, y, z] = points.subarray(i, i + 3);
    tree.eachLeafInBox(x - reach, y - reach, z - reach, x + reach, y + reach, z + reach, (from, to) => {
      passed += to - from;
    });
  }
  const eachPoint = (2 * passed) / Math.max(1, points.length / 3);
  return Math.ceil(Math.min(samplesOfWalls, mostPassed / Math.max(1, eachPoint)));
}

/** Only faces about parallel count, by the cosine between them: the sides of a wedge are no wall. */
const mostFacing = -0.8;

/** Of fewer points of a triangle, rays tell sooner. */
const fewPoints = 3;

/** Is a triangle turned against a normal? */
const isFacing = (mesh: TriMesh, t: number, n: Vec3): boolean => dot(n, triangleNormal(mesh, t)) < mostFacing;

/**
 * Can rays from points of a triangle, both ways along its normal, meet a face that is about parallel to it? Most triangles of a
 * coarse mesh have none near, which one look at what is around all its points tells.
 *
 * @param points x, y, z each
 * @param reach of the rays
 * @param slack added all round, for rounding
 * @returns true where it may be so; where many triangles are near too, since rays tell that sooner
 */
function mayFace(tree: Bvh, n: Vec3, points: Float32Array, reach: number, slack: number): boolean {
  const { min, max } = boundsOfPoints(points);
  const [x, y, z] = n.map((c) => Math.abs(c) * reach + slack);
  let looks = (8 * points.length) / 3;
  return tree.eachLeafInBox(min[0] - x, min[1] - y, min[2] - z, max[0] + x, max[1] + y, max[2] + z, (from, to) => {
    for (let i = from; i < to; i++) if (looks-- === 0 || isFacing(tree.mesh, tree.order[i], n)) return true;
    return false;
  });
}

/** Walls, gaps and skins nearer than a printer can tell apart, looked for along normals from points spread over the surface. */
export function wallsAndGaps(m: Surveyed, out: Findings, scale: number): void {
  const { mesh } = m;
  const tree = treeOf(mesh);
  m.context.checkCancelled();
  const area = areaOf(mesh);
  if (!(area > 0)) return;
  const start = 1e-7 * scale;
  const close = 1e-4 * scale;
  // nothing is said of what lies farther
  const reach = Math.max(close, figures.thinWallMm.value, figures.thinGapMm.value);
  const samples = samplesFor(tree, reach);
  m.context.checkCancelled();
  const { points, triangles } = sampleSurface(mesh, samples, 11);
  const spacing = Math.sqrt(area / samples);
  const walls: number[] = [];
  const gaps: number[] = [];
  const near: number[] = [];
  const depth = new Float64Array(triangles.length);
  const gap = new Float64Array(triangles.length);
  let n: Vec3 = [0, 0, 0];
  // points of a triangle follow one another: is there anything for those of this one?
  let worth = false;
  const facing = (d: number): boolean => Number.isFinite(d) && isFacing(mesh, tree.lastHit, n);
  for (let i = 0; i < triangles.length; i++) {
    if ((i & 511) === 0) m.context.checkCancelled();
    if (i === 0 || triangles[i] !== triangles[i - 1]) {
      n = triangleNormal(mesh, triangles[i]);
      let end = i + 1;
      while (triangles[end] === triangles[i]) end++;
      worth = n[0] !== 0 || n[1] !== 0 || n[2] !== 0;
      if (worth && end - i >= fewPoints) worth = mayFace(tree, n, points.subarray(3 * i, 3 * end), reach, 1e-6 * scale);
    }
    if (!worth) continue;
    const from: Vec3 = [points[3 * i], points[3 * i + 1], points[3 * i + 2]];
    depth[i] = tree.firstHit(from, [-n[0], -n[1], -n[2]], start, triangles[i], reach);
    const wall = facing(depth[i]);
    gap[i] = tree.firstHit(from, n, start, triangles[i], reach);
    const slot = facing(gap[i]);
    if ((wall && depth[i] < close) || (slot && gap[i] < close)) near.push(i);
    else {
      if (wall && depth[i] < figures.thinWallMm.value) walls.push(i);
      if (slot && gap[i] < figures.thinGapMm.value) gaps.push(i);
    }
  }
  const tell = (
    kind: 'near-skins' | 'thin-walls' | 'thin-gaps',
    found: number[],
    value: Float64Array,
    mends: Finding['mends'],
  ) => {
    if (found.length < 3) return;
    for (const group of byPlace(points, found, 3 * spacing).slice(0, 3)) {
      if (group.length < 3) continue;
      let least = group[0];
      const lo = [Infinity, Infinity, Infinity];
      const hi = [-Infinity, -Infinity, -Infinity];
      for (const i of group) {
        if (value[i] < value[least]) least = i;
        for (let k = 0; k < 3; k++) {
          lo[k] = Math.min(lo[k], points[3 * i + k]);
          hi[k] = Math.max(hi[k], points[3 * i + k]);
        }
      }
      out.add(kind, {
        severity: 'attention',
        count: group.length,
        values: { leastMm: value[least], areaMm2: group.length * spacing * spacing },
        middle: [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2],
        at: [points[3 * least], points[3 * least + 1], points[3 * least + 2]],
        spanMm: Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]),
        sure: 'sampled',
        mends,
      });
    }
  };
  const nearest = Float64Array.from(depth, (d, i) => Math.min(d || Infinity, gap[i] || Infinity));
  tell('near-skins', near, nearest, ['join', 'wrap']);
  tell('thin-walls', walls, depth, ['thicken', 'size', 'wrap']);
  tell('thin-gaps', gaps, gap, ['size', 'wrap']);
}
